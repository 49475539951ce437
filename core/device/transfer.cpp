// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/transfer.h"

#include "core/design/design.h"
#include "core/device/object_stages.h"
#include "core/device/oca/setting_text.h"
#include "core/device/setting_ramp.h"

#include <algorithm>
#include <chrono>
#include <fmt/format.h>
#include <thread>
#include <utility>

namespace syntonon::oca {
namespace {

using Clock = std::chrono::steady_clock;

constexpr int step_ms = 20; // of a ramp
// Of a transfer, when everything was written; what follows is reading back and opening.
constexpr double written = 0.8;

// --- planning ---

double tolerance_of(Kind kind, const std::optional<Word>& word) {
    constexpr double of_float = 1e-6, of_values = 1e-4;
    if (kind != Kind::polynomial_filter && kind != Kind::fir_filter) {
        return of_values;
    }
    return word && word->is_fixed() ? std::max(of_float, 0.51 * step_of(*word)) : of_float;
}

class Planner {
public:
    Planner(const DeviceTree& tree, const std::optional<Word>& word) : tree_(tree), word_(word) {}

    Expected<void> add(const MappedChannel& channel) {
        if (channel.problem) {
            return tl::unexpected(within(channel.name, *channel.problem));
        }
        for (const MappedStage& stage : channel.stages) {
            if (stage.problem) {
                return tl::unexpected(within(channel.name + ", " + stage.title, *stage.problem));
            }
            for (std::size_t i = 0; i < stage.objects.size(); ++i) {
                set(channel, stage.stage, stage.objects[i], stage.settings[i]);
            }
        }
        for (const std::string& path : channel.unused) {
            leave_idle(channel, path);
        }
        const std::size_t mutes_before = plan.mutes.size();
        for (const DeviceObject& object : tree_.objects) {
            if (object.kind == Kind::mute && object.block == channel.block && object.state) {
                plan.mutes.push_back({object.number, object.path,
                                      std::get<MuteSetting>(object.state->setting).is_muted});
            }
        }
        if (plan.mutes_outputs && plan.mutes.size() == mutes_before) {
            plan.notes.push_back(channel.block + " has no mute: it sounds while it is set.");
        }
        return {};
    }
    TransferPlan plan;

private:
    void set(const MappedChannel& channel, const std::string& stage, const std::string& path,
             const Setting& to) {
        add_object(channel, stage, path, to, true);
    }
    void add_object(const MappedChannel& channel, const std::string& stage, const std::string& path,
                    const Setting& to, bool is_enabled) {
        const DeviceObject& object = *tree_.at_path(path);
        plan.objects.push_back({object.number, path, channel.channel, stage, object.state->setting,
                                to, tolerance_of(*object.kind, word_), !object.state->is_off(),
                                is_enabled});
    }
    void leave_idle(const MappedChannel& channel, const std::string& path) {
        const DeviceObject& object = *tree_.at_path(path);
        const Setting& now = object.state->setting;
        // A classical one is never without effect while it is on.
        const bool is_classical = object.kind == Kind::classical_filter;
        if (object.state->is_off() || (is_classical && object.state->is_enabled)) {
            add_object(channel, "", path, now, false);
        } else if (!is_classical) {
            add_object(channel, "", path, is_idle(now) ? now : idle_setting(now), true);
        } else {
            plan.notes.push_back(
                fmt::format("{} stays as it is, since the device cannot switch it off: {}.", path,
                            text_of(now)));
        }
    }

    const DeviceTree& tree_;
    const std::optional<Word>& word_;
};

// --- sending ---

// Brings one device from wherever it is to one of two states.
class Sender {
public:
    Sender(const Connect& connect, const TransferPlan& plan, const Watch& watch,
           const Patience& patience)
        : connect_(connect), plan_(plan), watch_(watch), patience_(patience) {}

    TransferReport send() {
        const auto begin = Clock::now();
        bool to_new = true;
        report_.end = TransferEnd::unknown;
        for (int attempt = 0; attempt < patience_.attempts; ++attempt) {
            if (attempt > 0 && (controller_ == nullptr || controller_->lost())) {
                std::this_thread::sleep_for(std::chrono::milliseconds(patience_.between_ms));
            }
            const auto brought = bring_to(to_new);
            if (brought) {
                report_.end = to_new ? TransferEnd::done : TransferEnd::rolled_back;
                break;
            }
            report_.problem = report_.problem.value_or(brought.error());
            to_new = to_new && is_wholly_new_;
        }
        if (report_.end == TransferEnd::done) {
            report_.problem.reset();
        }
        if (report_.end == TransferEnd::unknown) {
            for (const PlannedMute& mute : plan_.mutes) {
                if (!mute.was_muted && is_muted_) {
                    report_.left_muted.push_back(mute.path);
                }
            }
        }
        report_.seconds = std::chrono::duration<double>(Clock::now() - begin).count();
        return std::move(report_);
    }

private:
    Expected<void> bring_to(bool to_new) {
        is_wholly_new_ = false;
        report_.objects = report_.taps = 0;
        const auto now = reach().and_then([&] { return read_all(); });
        if (!now) {
            return tl::unexpected(now.error());
        }
        if (!is_there(*now, to_new)) {
            auto ok = mute(true).and_then([&] { return write(*now, to_new); }).and_then([&] {
                watch_.report(written);
                return compare(to_new);
            });
            if (!ok) {
                return ok;
            }
        }
        is_wholly_new_ = to_new;
        return is_muted_ ? mute(false) : Expected<void>();
    }

    static bool is_set(const PlannedObject& object, const ObjectState& now, bool to_new) {
        return difference(goal_of(object, to_new), now.setting) <= object.tolerance;
    }
    static bool is_enabled_as(const PlannedObject& object, const ObjectState& now, bool to_new) {
        return now.is_enabled.value_or(true) == is_on(object, to_new);
    }
    static bool is_there(const PlannedObject& object, const ObjectState& now, bool to_new) {
        return is_set(object, now, to_new) && is_enabled_as(object, now, to_new);
    }
    bool is_there(const std::vector<ObjectState>& now, bool to_new) const {
        for (std::size_t i = 0; i < now.size(); ++i) {
            if (!is_there(plan_.objects[i], now[i], to_new)) {
                return false;
            }
        }
        return true;
    }

    Expected<void> reach() {
        if (controller_ != nullptr && !controller_->lost()) {
            return {};
        }
        controller_.reset();
        auto made = connect_();
        if (!made) {
            return tl::unexpected(made.error());
        }
        controller_ = std::move(*made);
        return {};
    }

    // Those outputs that were open before.
    Expected<void> mute(bool muted) {
        if (!plan_.mutes_outputs) {
            return {};
        }
        for (const PlannedMute& mute : plan_.mutes) {
            const MuteSetting wanted{muted || mute.was_muted};
            is_muted_ = true; // from when it is tried
            const auto set = write_setting(*controller_, mute.number, wanted);
            const auto read =
                set.and_then([&] { return read_state(*controller_, mute.number, Kind::mute); });
            if (!read) {
                return failed(mute.path, read.error());
            }
            if (!(read->setting == Setting(wanted))) {
                return failed(mute.path, {"", "does not do as it is told", "look at the device"});
            }
            note(mute.path, wanted.is_muted ? "muted" : "open");
        }
        is_muted_ = muted;
        return {};
    }

    Expected<std::vector<ObjectState>> read_all() {
        std::vector<ObjectToRead> objects;
        for (const PlannedObject& object : plan_.objects) {
            objects.push_back({object.number, kind_of(object.after)});
        }
        auto read = read_states(*controller_, objects);
        std::vector<ObjectState> states;
        for (std::size_t i = 0; i < read.size(); ++i) {
            if (!read[i]) {
                return failed(plan_.objects[i].path, read[i].error());
            }
            states.push_back(std::move(*read[i]));
        }
        return states;
    }

    static const Setting& goal_of(const PlannedObject& object, bool to_new) {
        return to_new ? object.after : object.before;
    }
    static bool is_on(const PlannedObject& object, bool to_new) {
        return to_new ? object.will_be_enabled : object.was_enabled;
    }

    Expected<void> write(const std::vector<ObjectState>& now, bool to_new) {
        if (!plan_.mutes_outputs && to_new) {
            return ramp(now);
        }
        std::vector<Call> calls;
        std::vector<const PlannedObject*> objects;
        for (std::size_t i = 0; i < plan_.objects.size(); ++i) {
            const PlannedObject& object = plan_.objects[i];
            if (!is_set(object, now[i], to_new)) {
                calls.push_back(call_that_sets(object.number, goal_of(object, to_new)));
                objects.push_back(&object);
            }
            if (!is_enabled_as(object, now[i], to_new)) {
                calls.push_back(call_that_enables(object.number, is_on(object, to_new)));
                objects.push_back(&object);
            }
        }
        const auto answers = controller_->call_all(calls);
        for (std::size_t i = 0; i < answers.size(); ++i) {
            if (!answers[i]) {
                return failed(objects[i]->path, answers[i].error());
            }
        }
        return is_stopped_at(to_new);
    }

    // A stop is heeded on the way to what is new alone.
    Expected<void> is_stopped_at(bool to_new) const {
        return to_new && watch_.is_stopped() ? Expected<void>(stopped()) : Expected<void>();
    }

    Expected<void> ramp(const std::vector<ObjectState>& now) {
        for (std::size_t i = 0; i < plan_.objects.size(); ++i) {
            watch_.report(written * static_cast<double>(i)
                          / static_cast<double>(plan_.objects.size()));
            if (auto ok = ramp(plan_.objects[i], now[i]); !ok) {
                return ok;
            }
        }
        return {};
    }
    Expected<void> ramp(const PlannedObject& object, const ObjectState& now) {
        const int steps = std::max(1, plan_.ramp_ms / step_ms);
        const auto way = is_set(object, now, true) ? std::vector<Setting>()
                                                   : ramp_between(now.setting, object.after, steps);
        for (const Setting& between : way) {
            if (auto ok = is_stopped_at(true); !ok) {
                return ok;
            }
            if (auto ok = write_setting(*controller_, object.number, between); !ok) {
                return failed(object.path, ok.error());
            }
            std::this_thread::sleep_for(std::chrono::milliseconds(step_ms));
        }
        if (is_enabled_as(object, now, true)) {
            return {};
        }
        const auto ok = controller_->call(call_that_enables(object.number, object.will_be_enabled));
        return ok ? Expected<void>() : failed(object.path, ok.error());
    }

    Expected<void> compare(bool to_new) {
        const auto now = read_all();
        if (!now) {
            return tl::unexpected(now.error());
        }
        for (std::size_t i = 0; i < plan_.objects.size(); ++i) {
            const PlannedObject& object = plan_.objects[i];
            const ObjectState& read = (*now)[i];
            if (!is_there(object, read, to_new)) {
                return failed(object.path,
                              {"",
                               fmt::format("reads back as {}, not as {}",
                                           text_of(read.setting, read.is_enabled.value_or(true)),
                                           text_of(goal_of(object, to_new), is_on(object, to_new))),
                               "choose another object, or look at the device"});
            }
            if (object.changes()) {
                const bool is_equal = difference(goal_of(object, to_new), read.setting) == 0;
                note(object.path, to_new ? fmt::format("written, read back, {}",
                                                       is_equal ? "equal" : "equal in its word")
                                         : "as it was before");
                count(object, to_new);
            }
        }
        return {};
    }

    void count(const PlannedObject& object, bool to_new) {
        const auto* fir = std::get_if<FirSetting>(&object.after);
        report_.objects += to_new ? 1 : 0;
        report_.taps += to_new && fir != nullptr && !object.stage.empty() ? fir->taps.size() : 0;
    }

    void note(const std::string& path, std::string what) {
        report_.steps.push_back({path, std::move(what), true});
    }
    tl::unexpected<Problem> failed(const std::string& path, const Problem& problem) {
        report_.steps.push_back({path, problem.reason, false});
        return tl::unexpected(in_file(path, problem));
    }

    const Connect& connect_;
    const TransferPlan& plan_;
    const Watch& watch_;
    const Patience& patience_;
    std::unique_ptr<Controller> controller_;
    TransferReport report_;
    bool is_wholly_new_ = false, is_muted_ = false;
};

} // namespace

std::size_t TransferPlan::changes() const {
    return static_cast<std::size_t>(std::ranges::count_if(
        objects, [](const PlannedObject& object) { return object.changes(); }));
}

Expected<TransferPlan> plan_transfer(const std::vector<MappedChannel>& channels,
                                     const DeviceTree& tree, const DeviceTarget& target,
                                     const std::optional<Word>& word) {
    Planner planner(tree, word);
    planner.plan.mutes_outputs = target.mutes;
    planner.plan.ramp_ms = target.ramp_ms;
    for (const MappedChannel& channel : channels) {
        if (auto ok = planner.add(channel); !ok) {
            return tl::unexpected(ok.error());
        }
    }
    return std::move(planner.plan);
}

Expected<TransferPlan> plan_transfer(const Study& study, const Delivery& delivery,
                                     const DeviceTree& tree,
                                     const std::vector<MappedChannel>& channels) {
    const Processor* processor = processor_of(study, delivery.processor);
    const auto word = processor != nullptr
                          ? std::optional(coefficient_values(processor->section_words))
                          : std::nullopt;
    auto plan = plan_transfer(channels, tree, delivery.device, word);
    if (plan && delivery.searched) {
        plan->notes.emplace_back("Words that were searched for are not sent: a device takes "
                                 "coefficients, and rounds them by itself.");
    }
    return plan;
}

TransferPlan way_back(TransferPlan plan, const DeviceTree& now) {
    for (PlannedObject& object : plan.objects) {
        std::swap(object.before, object.after);
        std::swap(object.was_enabled, object.will_be_enabled);
        const DeviceObject* held = now.at_path(object.path);
        if (held != nullptr && held->number == object.number && held->state) {
            object.before = held->state->setting;
            object.was_enabled = !held->state->is_off();
        }
    }
    for (PlannedMute& mute : plan.mutes) {
        const DeviceObject* held = now.at_path(mute.path);
        if (held != nullptr && held->state) {
            mute.was_muted = std::get<MuteSetting>(held->state->setting).is_muted;
        }
    }
    plan.notes.clear();
    return plan;
}

TransferReport transfer(const Connect& connect, const TransferPlan& plan, const Watch& watch,
                        const Patience& patience) {
    return Sender(connect, plan, watch, patience).send();
}

} // namespace syntonon::oca
