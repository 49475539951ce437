// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/oca/device_tree.h"

#include "core/design/design.h"
#include "core/device/oca/setting_bytes.h"

#include <algorithm>
#include <fmt/format.h>
#include <set>
#include <span>
#include <utility>

namespace syntonon::oca {
namespace {

Problem not_standard(const std::string& what) {
    return {"", what + " is not as the standard has it", "report it to the device's maker"};
}

// OcaClassID, OcaClassVersion.
ClassId class_in(Reader& in) {
    ClassId id(in.count_of(2));
    for (std::uint16_t& part : id) {
        part = in.u16();
    }
    in.u16();
    return id;
}

constexpr std::size_t most_text = 64;
constexpr std::size_t objects_at_a_time = 16; // what they answer is held at once

std::string cut(std::string text) {
    std::size_t end = std::min(text.size(), most_text);
    while (end < text.size() && end > 0 && (static_cast<unsigned char>(text[end]) & 0xc0) == 0x80) {
        --end; // not within a character
    }
    text.resize(end);
    return text;
}

std::string text_in(const Expected<Parameters>& answer) {
    if (!answer) {
        return {};
    }
    Reader in(answer->bytes);
    return cut(in.text());
}

// What makes a state, and whether it is enabled, which a device need not know.
std::vector<MethodId> methods_to_read(Kind kind) {
    std::vector<MethodId> methods = reading_methods(kind);
    if (has_setting(kind)) {
        methods.push_back(method::get_enabled);
    }
    return methods;
}

// What those answered.
Expected<ObjectState> state_in(Kind kind, std::span<Expected<Parameters>> answers) {
    std::vector<Parameters> all;
    for (const auto& answer : answers.first(answers.size() - 1)) {
        if (!answer) {
            return tl::unexpected(answer.error());
        }
        all.push_back(*answer);
    }
    auto state = state_from(kind, all);
    if (state && answers.back()) {
        Reader in(answers.back()->bytes);
        const bool is_enabled = in.u8() != 0;
        state->is_enabled = in.is_at_end() ? std::optional(is_enabled) : std::nullopt;
    }
    return state;
}

// Reads one device, level by level.
class TreeReader {
public:
    TreeReader(Controller& controller, const Watch& watch, const ReadingLimits& limits)
        : controller_(controller), watch_(watch), limits_(limits),
          until_(Controller::Clock::now() + limits.time) {}

    Expected<DeviceTree> read() {
        read_names();
        std::vector<Block> level = {{root_block, "", 0}};
        while (!level.empty()) {
            std::vector<Block> next;
            for (const Block& block : level) {
                auto inner = read_block(block);
                if (!inner) {
                    return tl::unexpected(inner.error());
                }
                next.insert(next.end(), inner->begin(), inner->end());
            }
            level = std::move(next);
        }
        if (auto ok = read_states(); !ok) {
            return tl::unexpected(ok.error());
        }
        return std::move(tree_);
    }

private:
    struct Block {
        std::uint32_t number;
        std::string path;
        std::size_t depth;
    };

    // Of these a device may have none.
    void read_names() {
        const auto answers =
            controller_.call_all({{device_manager, method::get_device_name, {}},
                                  {device_manager, method::get_serial_number, {}},
                                  {device_manager, method::get_model_description, {}}},
                                 until_);
        tree_.name = text_in(answers[0]);
        tree_.serial_number = text_in(answers[1]);
        if (answers[2]) {
            Reader in(answers[2]->bytes);
            tree_.maker = cut(in.text());
            tree_.model = cut(in.text());
            tree_.version = cut(in.text());
        }
    }

    Expected<std::vector<Block>> read_block(const Block& block) {
        const auto answer = std::move(
            controller_.call_all({{block.number, method::get_members, {}}}, until_).front());
        if (!answer) {
            return tl::unexpected(within(place_of(block), answer.error()));
        }
        Reader in(answer->bytes);
        const std::size_t count = in.count_of(8);
        if (seen_.size() + count > limits_.objects || block.depth >= limits_.depth) {
            return refuse(place_of(block),
                          fmt::format("the device has more than {} objects, or blocks in blocks "
                                      "more than {} deep",
                                      limits_.objects, limits_.depth),
                          "that is more than this program reads");
        }
        std::vector<DeviceObject> members(count);
        for (DeviceObject& member : members) {
            member.number = in.u32();
            member.class_id = class_in(in);
            member.kind = kind_of_class(member.class_id);
        }
        if (!in.is_at_end()) {
            return tl::unexpected(within(place_of(block), not_standard("the list of its members")));
        }
        std::erase_if(members,
                      [&](const DeviceObject& m) { return !seen_.insert(m.number).second; });
        if (auto ok = read_roles(members); !ok) {
            return tl::unexpected(ok.error());
        }
        return taken(block, std::move(members));
    }

    static std::string place_of(const Block& block) {
        return block.path.empty() ? "the root block" : block.path;
    }

    Expected<void> read_roles(std::vector<DeviceObject>& members) {
        return in_portions(members, [&](std::span<DeviceObject> some) {
            std::vector<Call> calls;
            for (const DeviceObject& member : some) {
                calls.push_back({member.number, method::get_role, {}});
                calls.push_back({member.number, method::get_label, {}});
            }
            const auto answers = controller_.call_all(calls, until_);
            for (std::size_t i = 0; i < some.size(); ++i) {
                some[i].role = text_in(answers[2 * i]);
                some[i].label = text_in(answers[2 * i + 1]);
                if (some[i].role.empty()) {
                    some[i].role = fmt::format("object {}", some[i].number);
                }
            }
        });
    }

    // Until one goes wrong that concerns all.
    template <class Read>
    Expected<void> in_portions(std::span<DeviceObject> all, Read read) {
        for (std::size_t at = 0; at < all.size(); at += objects_at_a_time) {
            if (watch_.is_stopped()) {
                return stopped();
            }
            read(all.subspan(at, std::min(objects_at_a_time, all.size() - at)));
            if (const auto lost = controller_.lost()) {
                return tl::unexpected(*lost);
            }
            if (Controller::Clock::now() >= until_ || bytes_ > limits_.bytes) {
                return refuse(text_of(controller_.address()),
                              bytes_ > limits_.bytes
                                  ? fmt::format("the device's settings are more than {} MB",
                                                limits_.bytes / 1'000'000)
                                  : fmt::format("reading the device takes more than {} s",
                                                static_cast<double>(limits_.time.count()) / 1000),
                              "that is more than this program reads");
            }
        }
        return {};
    }

    std::vector<Block> taken(const Block& block, std::vector<DeviceObject> members) {
        std::vector<Block> blocks;
        std::set<std::string> paths;
        for (DeviceObject& member : members) {
            const std::string path =
                block.path.empty() ? member.role : block.path + "/" + member.role;
            member.path = path;
            member.block = block.path;
            for (int k = 2; !paths.insert(member.path).second; ++k) {
                member.path = fmt::format("{} ({})", path, k);
            }
            if (member.kind == Kind::block) {
                blocks.push_back({member.number, member.path, block.depth + 1});
            }
            tree_.objects.push_back(std::move(member));
        }
        return blocks;
    }

    Expected<void> read_states() {
        return in_portions(tree_.objects, [&](std::span<DeviceObject> some) {
            std::vector<Call> calls;
            for (const DeviceObject& object : some) {
                for (const MethodId& method : methods_of(object)) {
                    calls.push_back({object.number, method, {}});
                }
            }
            auto answers = controller_.call_all(calls, until_);
            std::span left(answers);
            for (DeviceObject& object : some) {
                const std::size_t count = methods_of(object).size();
                if (count > 0) {
                    take_state(object, left.first(count));
                }
                left = left.subspan(count);
            }
        });
    }

    static std::vector<MethodId> methods_of(const DeviceObject& object) {
        return object.kind ? methods_to_read(*object.kind) : std::vector<MethodId>();
    }

    void take_state(DeviceObject& object, std::span<Expected<Parameters>> answers) {
        auto state = state_in(*object.kind, answers);
        for (const auto& answer : answers) {
            bytes_ += answer ? answer->bytes.size() : 0;
        }
        if (state) {
            object.state = std::move(*state);
        } else {
            object.unreadable = state.error();
        }
    }

    Controller& controller_;
    const Watch& watch_;
    const ReadingLimits limits_;
    const Controller::Clock::time_point until_;
    std::size_t bytes_ = 0;
    DeviceTree tree_;
    std::set<std::uint32_t> seen_ = {root_block};
};

} // namespace

const DeviceObject* DeviceTree::at_path(std::string_view path) const {
    const auto found = std::ranges::find(objects, path, &DeviceObject::path);
    return found == objects.end() ? nullptr : &*found;
}

Expected<DeviceTree> read_tree(Controller& controller, const Watch& watch,
                               const ReadingLimits& limits) {
    return TreeReader(controller, watch, limits).read();
}

std::vector<Expected<ObjectState>> read_states(Controller& controller,
                                               const std::vector<ObjectToRead>& objects,
                                               const ReadingLimits& limits) {
    const auto until = Controller::Clock::now() + limits.time;
    std::size_t bytes = 0;
    std::vector<Expected<ObjectState>> states;
    for (std::size_t at = 0; at < objects.size(); at += objects_at_a_time) {
        const std::span some =
            std::span(objects).subspan(at, std::min(objects_at_a_time, objects.size() - at));
        if (bytes > limits.bytes) {
            states.resize(objects.size(), refuse(text_of(controller.address()),
                                                 "its settings are more than this program reads",
                                                 "map fewer of its objects"));
            break;
        }
        std::vector<Call> calls;
        for (const ObjectToRead& object : some) {
            for (const MethodId& method : methods_to_read(object.kind)) {
                calls.push_back({object.number, method, {}});
            }
        }
        auto answers = controller.call_all(calls, until);
        std::span left(answers);
        for (const ObjectToRead& object : some) {
            const std::size_t count = methods_to_read(object.kind).size();
            for (const auto& answer : left.first(count)) {
                bytes += answer ? answer->bytes.size() : 0;
            }
            states.push_back(state_in(object.kind, left.first(count)));
            left = left.subspan(count);
        }
    }
    return states;
}

Expected<ObjectState> read_state(Controller& controller, std::uint32_t object, Kind kind) {
    return std::move(read_states(controller, {{object, kind}}).front());
}

Call call_that_sets(std::uint32_t object, const Setting& setting) {
    SettingCall call = call_to_set(setting);
    return {object, call.method, std::move(call.parameters)};
}

Call call_that_enables(std::uint32_t object, bool is_enabled) {
    return {object, method::set_enabled, {1, {static_cast<std::uint8_t>(is_enabled ? 1 : 0)}}};
}

Expected<void> write_setting(Controller& controller, std::uint32_t object, const Setting& setting) {
    return controller.call(call_that_sets(object, setting)).map([](const Parameters&) {});
}

} // namespace syntonon::oca
