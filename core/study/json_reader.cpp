// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/json_reader.h"

#include "core/base/base64.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace syntonon {
namespace {

using Node = nlohmann::ordered_json;

const char* kind_of(const Node& json) {
    return json.is_null() ? "null" : json.type_name();
}

} // namespace

ObjectReader::ObjectReader(const Json& json, std::string path, ReadLog& log)
    : ObjectReader(json.node(), std::move(path), log) {}

ObjectReader::ObjectReader(const Node& json, std::string path, ReadLog& log)
    : json_(json), path_(std::move(path)), log_(log) {
    if (!json_.is_object()) {
        log_.fail(
            {path_, fmt::format("is {} where an object belongs", kind_of(json_)), "write { … }"});
    }
}

std::string ObjectReader::path_of(std::string_view key) const {
    return path_.empty() ? std::string(key) : fmt::format("{}.{}", path_, key);
}

std::string ObjectReader::element_path(std::string_view key, std::size_t i) const {
    return fmt::format("{}[{}]", path_of(key), i);
}

void ObjectReader::fail(std::string_view key, std::string reason, std::string way_out) {
    log_.fail({path_of(key), std::move(reason), std::move(way_out)});
}

bool ObjectReader::has(std::string_view key) const {
    return json_.is_object() && json_.contains(key);
}

bool ObjectReader::is_list(std::string_view key) const {
    return has(key) && json_.at(std::string(key)).is_array();
}

const Node* ObjectReader::value(std::string_view key) {
    asked_.emplace(key);
    if (!json_.is_object()) {
        return nullptr;
    }
    const auto found = json_.find(key);
    return found == json_.end() ? nullptr : &*found;
}

const Node* ObjectReader::required(std::string_view key) {
    const Node* found = value(key);
    if (found == nullptr) {
        fail(key, "is missing", "add it");
    }
    return found;
}

const Node* ObjectReader::array(std::string_view key) {
    const Node* found = value(key);
    if (found != nullptr && !found->is_array()) {
        fail(key, fmt::format("is {} where an array belongs", kind_of(*found)), "write [ … ]");
        return nullptr;
    }
    return found;
}

std::size_t ObjectReader::count_of(std::string_view array_key) {
    const Node* list = array(array_key);
    return list != nullptr ? list->size() : 0;
}

ObjectReader ObjectReader::element(std::string_view array_key, std::size_t i) {
    return {(*json_.find(array_key))[i], element_path(array_key, i), log_};
}

std::string ObjectReader::text(std::string_view key) {
    return required(key) != nullptr ? text_or(key, {}) : std::string();
}

std::string ObjectReader::text_or(std::string_view key, std::string otherwise) {
    const Node* found = value(key);
    if (found == nullptr) {
        return otherwise;
    }
    if (!found->is_string()) {
        fail(key, fmt::format("is {} where text belongs", kind_of(*found)), "write \"…\"");
        return otherwise;
    }
    return found->get<std::string>();
}

double ObjectReader::number(std::string_view key) {
    return required(key) != nullptr ? number_or(key, 0) : 0;
}

double ObjectReader::number_or(std::string_view key, double otherwise) {
    const auto found = optional_number(key);
    return found ? *found : otherwise;
}

std::optional<double> ObjectReader::optional_number(std::string_view key) {
    const Node* found = value(key);
    if (found == nullptr) {
        return std::nullopt;
    }
    if (!found->is_number()) {
        fail(key, fmt::format("is {} where a number belongs", kind_of(*found)),
             "write a number without quotes");
        return std::nullopt;
    }
    return found->get<double>();
}

int ObjectReader::integer_or(std::string_view key, int otherwise) {
    const auto found = optional_number(key);
    if (!found) {
        return otherwise;
    }
    if (*found != std::floor(*found) || std::abs(*found) > 1e9) {
        fail(key, fmt::format("{} is not a whole number in range", *found), "write a whole number");
        return otherwise;
    }
    return static_cast<int>(*found);
}

bool ObjectReader::boolean_or(std::string_view key, bool otherwise) {
    const Node* found = value(key);
    if (found == nullptr) {
        return otherwise;
    }
    if (!found->is_boolean()) {
        fail(key, fmt::format("is {} where true or false belongs", kind_of(*found)),
             "write true or false");
        return otherwise;
    }
    return found->get<bool>();
}

std::vector<double> ObjectReader::numbers(std::string_view key) {
    const Node* found = value(key);
    if (found == nullptr) {
        return {};
    }
    if (found->is_object() && found->contains("f64") && (*found)["f64"].is_string()) {
        auto values = doubles_from_base64((*found)["f64"].get_ref<const std::string&>());
        if (!values) {
            fail(std::string(key) + ".f64", "is not base64 of 8-byte numbers",
                 "write it again or give a plain array");
        }
        return values.value_or(std::vector<double>{});
    }
    if (!found->is_array()) {
        fail(key, fmt::format("is {} where an array of numbers belongs", kind_of(*found)),
             "write [ … ]");
        return {};
    }
    std::vector<double> values;
    values.reserve(found->size());
    for (const Node& element : *found) {
        if (!element.is_number()) {
            log_.fail({element_path(key, values.size()),
                       fmt::format("is {} where a number belongs", kind_of(element)),
                       "write a number"});
            return {};
        }
        values.push_back(element.get<double>());
    }
    return values;
}

std::vector<std::string> ObjectReader::texts(std::string_view key) {
    std::vector<std::string> values;
    if (const Node* list = array(key)) {
        for (const Node& element : *list) {
            if (!element.is_string()) {
                log_.fail({element_path(key, values.size()),
                           fmt::format("is {} where text belongs", kind_of(element)),
                           "write \"…\""});
                return {};
            }
            values.push_back(element.get<std::string>());
        }
    }
    return values;
}

ObjectReader ObjectReader::object(std::string_view key) {
    static const Node nothing = Node::object();
    const Node* found = required(key);
    return {found != nullptr ? *found : nothing, path_of(key), log_};
}

UnknownKeys ObjectReader::unknown() {
    UnknownKeys kept;
    if (json_.is_object()) {
        for (const auto& [key, element] : json_.items()) {
            if (!asked_.contains(key)) {
                kept[key] = element.dump();
                log_.warnings.push_back(fmt::format(
                    "{}: this version does not know it; it is kept as it is", path_of(key)));
            }
        }
    }
    return kept;
}

} // namespace syntonon
