// JSON documents: building and writing them; json_view.h reads them. The library that does the work
// is dear to compile and stands in these two only.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/unknown_keys.h"

#include <memory>
#include <nlohmann/json_fwd.hpp>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

// An object, or a list, that is being put together; keys keep their order. Numbers
// that are not finite are written as null.
class Json {
public:
    Json(); // an object without keys
    static Json list();
    // A list; more than 4096 numbers become the compact {"f64": "<base64>"}.
    static Json numbers(const std::vector<double>& numbers);
    // The same; as {"f32": "<base64>"} where single precision loses nothing of them, as of sound.
    static Json samples(const std::vector<double>& numbers);
    ~Json();
    Json(const Json& other);
    Json(Json&& other) noexcept;
    Json& operator=(Json other) noexcept;

    // Of an object. A key that is there already gets the new value.
    Json& set(std::string_view key, double value);
    Json& set(std::string_view key, int value);
    Json& set(std::string_view key, bool value);
    Json& set(std::string_view key, std::string_view value);
    Json& set(std::string_view key, const std::string& value);
    Json& set(std::string_view key, const char* value); // or it would be taken for a bool
    Json& set(std::string_view key, Json value);
    Json& set_null(std::string_view key);
    // Puts the kept keys back.
    Json& set_unknown(const UnknownKeys& unknown);

    // Of a list.
    Json& add(Json item);
    Json& add(std::string_view item);

    // With one blank an indentation level, without a line's end behind it. Text that is not UTF-8
    // (a name from a foreign file) is mended: it must not keep a study from being saved.
    std::string text() const;

private:
    explicit Json(nlohmann::ordered_json node);

    std::unique_ptr<nlohmann::ordered_json> node_;
};

// A list of what `write` makes of each item.
template <class Items, class Write>
Json list_json(const Items& items, Write write) {
    Json list = Json::list();
    for (const auto& item : items) {
        list.add(write(item));
    }
    return list;
}

// The text of a value, which must be JSON, without blanks and line ends between its parts.
std::string compact_json(std::string_view json);

// Text in quotes, with what JSON wants escaped.
std::string json_string(std::string_view text);

} // namespace syntonon
