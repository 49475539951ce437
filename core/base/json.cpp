// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/json.h"

#include "core/base/base64.h"

#include <algorithm>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace syntonon {
namespace {

using Node = nlohmann::ordered_json;

constexpr std::size_t compact_from = 4096;
constexpr int deepest = 64;

// nlohmann's writer recurses, so a hostile nest of brackets must not get that far.
bool nests_too_deep(std::string_view text) {
    int depth = 0;
    bool quoted = false;
    for (std::size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (quoted) {
            if (c == '\\') {
                ++i;
            } else if (c == '"') {
                quoted = false;
            }
        } else if (c == '"') {
            quoted = true;
        } else if (c == '[' || c == '{') {
            if (++depth > deepest) {
                return true;
            }
        } else if (c == ']' || c == '}') {
            --depth;
        }
    }
    return false;
}

std::string line_and_column(std::string_view text, std::size_t byte) {
    byte = std::min(byte, text.size());
    const std::string_view before = text.substr(0, byte > 0 ? byte - 1 : 0);
    const auto line = 1 + std::ranges::count(before, '\n');
    const auto start = before.rfind('\n');
    return fmt::format("line {}, column {}", line,
                       before.size() - (start == std::string_view::npos ? 0 : start + 1) + 1);
}

} // namespace

Json::Json() : Json(Node::object()) {}
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
    for (const auto& [key, text] : unknown) {
        (*node_)[key] = Node::parse(text);
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

Expected<Json> parse_json(std::string_view text) {
    if (nests_too_deep(text)) {
        return refuse("", fmt::format("brackets nest deeper than {}", deepest),
                      "check that it is the file you mean");
    }
    try {
        return Json(Node::parse(text));
    } catch (const nlohmann::json::parse_error& error) {
        const bool ends_early = error.byte > text.size();
        return refuse(line_and_column(text, error.byte),
                      text.empty() ? "the file is empty"
                      : ends_early ? "the file ends before the document does"
                                   : "this is not JSON",
                      ends_early ? "it may have been cut off; use a backup or the recovered copy"
                                 : "check that it is the file you mean");
    } catch (const nlohmann::json::exception&) {
        return refuse("", "a number is too large to be held", "check that it is the file you mean");
    }
}

std::string json_string(std::string_view text) {
    return Node(text).dump(-1, ' ', false, Node::error_handler_t::replace);
}

} // namespace syntonon
