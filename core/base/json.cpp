// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/json.h"

#include "core/base/base64.h"

#include <algorithm>
#include <nlohmann/json.hpp>

namespace syntonon {
namespace {

using Node = nlohmann::ordered_json;

constexpr std::size_t compact_from = 4096;

// An object that keeps its order copies all that is in it when it grows (its keys are const), so
// none of ours should have to.
Node roomy_object() {
    constexpr std::size_t most_keys = 16;
    Node node = Node::object();
    node.get_ref<Node::object_t&>().reserve(most_keys);
    return node;
}

} // namespace

Json::Json() : Json(roomy_object()) {}
Json::Json(Node node) : node_(std::make_unique<Node>(std::move(node))) {}
Json::~Json() = default;
Json::Json(const Json& other) : Json(*other.node_) {}
Json::Json(Json&& other) noexcept = default;
Json& Json::operator=(Json other) noexcept {
    node_ = std::move(other.node_);
    return *this;
}

Json Json::list() {
    return Json(Node::array());
}

Json Json::numbers(const std::vector<double>& numbers) {
    return Json(numbers.size() > compact_from ? Node{{"f64", base64_from_doubles(numbers)}}
                                              : Node(numbers));
}

Json Json::samples(const std::vector<double>& numbers) {
    const bool singles = std::ranges::all_of(
        numbers, [](double x) { return static_cast<double>(static_cast<float>(x)) == x; });
    return numbers.size() > compact_from && singles
               ? Json(Node{{"f32", base64_from_floats({numbers.begin(), numbers.end()})}})
               : Json::numbers(numbers);
}

Json& Json::set(std::string_view key, double value) {
    (*node_)[key] = value;
    return *this;
}

Json& Json::set(std::string_view key, int value) {
    (*node_)[key] = value;
    return *this;
}

Json& Json::set(std::string_view key, bool value) {
    (*node_)[key] = value;
    return *this;
}

Json& Json::set(std::string_view key, std::string_view value) {
    (*node_)[key] = value;
    return *this;
}

Json& Json::set(std::string_view key, const std::string& value) {
    return set(key, std::string_view(value));
}

Json& Json::set(std::string_view key, const char* value) {
    return set(key, std::string_view(value));
}

Json& Json::set(std::string_view key, Json value) {
    (*node_)[key] = std::move(*value.node_);
    return *this;
}

Json& Json::set_null(std::string_view key) {
    (*node_)[key] = nullptr;
    return *this;
}

Json& Json::set_unknown(const UnknownKeys& unknown) {
    if (unknown.empty()) {
        return *this;
    }
    const Node kept = Node::parse("{" + unknown.members() + "}");
    for (const auto& [key, value] : kept.items()) {
        (*node_)[key] = value;
    }
    return *this;
}

Json& Json::add(Json item) {
    node_->push_back(std::move(*item.node_));
    return *this;
}

Json& Json::add(std::string_view item) {
    node_->push_back(item);
    return *this;
}

std::string Json::text() const {
    return node_->dump(1, ' ', false, Node::error_handler_t::replace);
}

std::string compact_json(std::string_view json) {
    std::string compact;
    bool in_text = false;
    for (std::size_t i = 0; i < json.size(); ++i) {
        const char c = json[i];
        if (in_text && c == '\\') {
            compact += c;
            compact += json[++i];
            continue;
        }
        in_text = in_text != (c == '"');
        if (in_text || (c != ' ' && c != '\t' && c != '\n' && c != '\r')) {
            compact += c;
        }
    }
    return compact;
}

std::string json_string(std::string_view text) {
    return Node(text).dump(-1, ' ', false, Node::error_handler_t::replace);
}

} // namespace syntonon
