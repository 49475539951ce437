// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/json_view.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <fmt/format.h>
#include <nlohmann/json.hpp>
#include <set>

namespace syntonon {
namespace {

using Node = nlohmann::ordered_json;

constexpr std::size_t deepest = 128, most_keys = 10'000;

bool is_blank(char c) {
    return c == ' ' || c == '\t' || c == '\n' || c == '\r';
}

// What ends a number or a word, looked up: every character of a document passes here.
constexpr auto ends_word = [] {
    std::array<bool, 256> ends{};
    for (const char c : {',', ']', '}', ' ', '\t', '\n', '\r'}) {
        ends[static_cast<unsigned char>(c)] = true;
    }
    return ends;
}();

std::string line_and_column(std::string_view text, std::size_t byte) {
    byte = std::min(byte, text.size());
    const std::string_view before = text.substr(0, byte > 0 ? byte - 1 : 0);
    const auto line = 1 + std::ranges::count(before, '\n');
    const auto start = before.rfind('\n');
    return fmt::format("line {}, column {}", line,
                       before.size() - (start == std::string_view::npos ? 0 : start + 1) + 1);
}

// Follows the document as the library reads it, keeping only where it is.
class Checker : public nlohmann::json_sax<Node> {
public:
    explicit Checker(std::string_view text) : text_(text) {}

    std::optional<Problem> take_problem() { return std::move(problem_); }

    bool null() override { return value(); }
    bool boolean(bool) override { return value(); }
    bool number_integer(number_integer_t) override { return value(); }
    bool number_unsigned(number_unsigned_t) override { return value(); }
    bool number_float(number_float_t, const string_t&) override { return value(); }
    bool string(string_t&) override { return value(); }
    bool binary(binary_t&) override { return value(); }
    bool start_object(std::size_t) override { return enter(true); }
    bool end_object() override { return leave(); }
    bool start_array(std::size_t) override { return enter(false); }
    bool end_array() override { return leave(); }

    bool key(string_t& name) override {
        Open& object = open_.back();
        object.key = name;
        if (object.keys() == most_keys) {
            problem_ = Problem{path(), fmt::format("an object has more than {} keys", most_keys),
                               "check that it is the file you mean"};
        } else if (!object.add(name)) {
            problem_ = Problem{path(), "this key stands twice", "keep one of them"};
        }
        return !problem_;
    }

    bool parse_error(std::size_t byte, const std::string&,
                     const nlohmann::detail::exception& error) override {
        constexpr int out_of_range = 406;
        const bool ends_early = byte > text_.size();
        problem_ =
            error.id == out_of_range
                ? Problem{path(), "a number is too large to be held",
                          "check that it is the file you mean"}
                : Problem{line_and_column(text_, byte),
                          text_.empty() ? "the file is empty"
                          : ends_early  ? "the file ends before the document does"
                                        : "this is not JSON",
                          ends_early ? "it may have been cut off; use a backup or the recovered "
                                       "copy"
                                     : "check that it is the file you mean"};
        return false;
    }

private:
    struct Open {
        bool is_object = false;
        std::size_t index = 0;
        std::string key;
        std::vector<std::string> first_keys; // a few are quicker to look through than a set
        std::set<std::string> more_keys;

        std::size_t keys() const { return first_keys.size() + more_keys.size(); }
        bool add(const std::string& name) {
            constexpr std::size_t few = 24;
            if (std::ranges::find(first_keys, name) != first_keys.end()) {
                return false;
            }
            if (first_keys.size() < few) {
                first_keys.push_back(name);
                return true;
            }
            return more_keys.insert(name).second;
        }
    };

    bool enter(bool is_object) {
        if (open_.size() == deepest) {
            problem_ = Problem{"", fmt::format("brackets nest deeper than {}", deepest),
                               "check that it is the file you mean"};
            return false;
        }
        open_.push_back({is_object, 0, {}, {}, {}});
        return true;
    }
    bool leave() {
        open_.pop_back();
        return value();
    }
    // A value has ended: the next one of a list has the next index.
    bool value() {
        if (!open_.empty()) {
            ++open_.back().index;
        }
        return true;
    }
    std::string path() const {
        std::string path;
        for (const Open& open : open_) {
            path += open.is_object ? (path.empty() ? "" : ".") + open.key
                                   : fmt::format("[{}]", open.index);
        }
        return path;
    }

    std::string_view text_;
    std::vector<Open> open_;
    std::optional<Problem> problem_;
};

} // namespace

Expected<JsonView> checked_json(std::string_view text) {
    Checker checker(text);
    const bool fine = Node::sax_parse(text.begin(), text.end(), &checker);
    if (auto problem = checker.take_problem()) {
        return tl::unexpected(std::move(*problem));
    }
    if (!fine) {
        return refuse("", "this is not JSON", "check that it is the file you mean");
    }
    constexpr std::string_view byte_order_mark = "\xEF\xBB\xBF";
    if (text.starts_with(byte_order_mark)) {
        text.remove_prefix(byte_order_mark.size());
    }
    while (is_blank(text.front())) {
        text.remove_prefix(1);
    }
    while (is_blank(text.back())) {
        text.remove_suffix(1);
    }
    return JsonView(text);
}

JsonView::Kind JsonView::kind() const {
    switch (json_.front()) {
    case '{':
        return Kind::object;
    case '[':
        return Kind::list;
    case '"':
        return Kind::text;
    case 't':
    case 'f':
        return Kind::boolean;
    case 'n':
        return Kind::null;
    default:
        return Kind::number;
    }
}

const char* JsonView::kind_name() const {
    constexpr std::array names = {"null", "boolean", "number", "string", "array", "object"};
    return names.at(static_cast<std::size_t>(kind()));
}

bool JsonView::boolean() const {
    return json_.front() == 't';
}

double JsonView::number() const {
    double value = 0;
    std::from_chars(json_.data(), json_.data() + json_.size(), value);
    return value;
}

std::string JsonView::text() const {
    const std::string_view inside = json_.substr(1, json_.size() - 2);
    return inside.find('\\') == std::string_view::npos ? std::string(inside)
                                                       : Node::parse(json_).get<std::string>();
}

std::size_t JsonView::after_blanks(std::size_t at) const {
    while (is_blank(json_[at])) {
        ++at;
    }
    return at;
}

std::size_t JsonView::first_inside() const {
    return after_blanks(1);
}

std::size_t JsonView::after_comma(std::size_t at) const {
    at = after_blanks(at);
    return json_[at] == ',' ? after_blanks(at + 1) : at;
}

std::size_t JsonView::end_of_text(std::size_t at) const {
    for (++at; json_[at] != '"'; ++at) {
        at += json_[at] == '\\' ? 1 : 0;
    }
    return at + 1;
}

std::size_t JsonView::end_of_value(std::size_t at) const {
    if (json_[at] == '"') {
        return end_of_text(at);
    }
    if (json_[at] != '{' && json_[at] != '[') {
        while (at < json_.size() && !ends_word[static_cast<unsigned char>(json_[at])]) {
            ++at;
        }
        return at;
    }
    for (int depth = 0;;) {
        const char c = json_[at];
        if (c == '"') {
            at = end_of_text(at);
            continue;
        }
        depth += c == '{' || c == '[' ? 1 : c == '}' || c == ']' ? -1 : 0;
        ++at;
        if (depth == 0) {
            return at;
        }
    }
}

std::vector<JsonView::Member> JsonView::members() const {
    std::vector<Member> all;
    for (std::size_t at = first_inside(); json_[at] != '}'; at = after_comma(at)) {
        const std::size_t key_end = end_of_text(at);
        const std::size_t value = after_blanks(after_blanks(key_end) + 1); // behind the colon
        const std::size_t end = end_of_value(value);
        all.push_back({JsonView(json_.substr(at, key_end - at)).text(),
                       JsonView(json_.substr(value, end - value))});
        at = end;
    }
    return all;
}

std::vector<JsonView> JsonView::elements() const {
    std::vector<JsonView> all;
    each_element([&](const JsonView& element) {
        all.push_back(element);
        return true;
    });
    return all;
}

std::size_t JsonView::element_count() const {
    std::size_t count = 0;
    each_element([&](const JsonView&) {
        ++count;
        return true;
    });
    return count;
}

} // namespace syntonon
