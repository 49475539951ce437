// JSON documents as they stand: a value is a piece of the text, looked into only when it is asked
// for, so that reading a document takes no more memory than its text and what is made of it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

class JsonView {
public:
    enum class Kind { null, boolean, number, text, list, object };
    struct Member;

    JsonView() : JsonView("{}") {} // an object without keys
    Kind kind() const;
    const char* kind_name() const; // "null", "boolean", "number", "string", "array", "object"

    // Each only of its own kind.
    bool boolean() const;
    double number() const;
    std::string text() const;
    std::vector<Member> members() const; // in their order
    std::vector<JsonView> elements() const;
    std::size_t element_count() const;
    // Calls `take(JsonView)` for each element while it returns true.
    template <class Take>
    void each_element(Take take) const {
        for (std::size_t at = first_inside(); json_[at] != ']'; at = after_comma(at)) {
            const std::size_t end = end_of_value(at);
            if (!take(JsonView(json_.substr(at, end - at)))) {
                return;
            }
            at = end;
        }
    }

    std::string_view json() const { return json_; }

private:
    explicit JsonView(std::string_view json) : json_(json) {}
    friend Expected<JsonView> checked_json(std::string_view text);

    std::size_t first_inside() const;
    std::size_t after_blanks(std::size_t at) const;
    std::size_t after_comma(std::size_t at) const;
    std::size_t end_of_text(std::size_t at) const;
    std::size_t end_of_value(std::size_t at) const;

    std::string_view json_;
};

struct JsonView::Member {
    std::string key;
    JsonView value;
};

// The document, which must outlive every view into it. Refused, with the line and column, where it
// stops being JSON; with its path, a key that stands twice; nesting deeper than 64; numbers that no
// double can hold.
Expected<JsonView> checked_json(std::string_view text);

} // namespace syntonon
