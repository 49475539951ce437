// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/json_reader.h"

#include "core/base/base64.h"
#include "core/base/json.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <tuple>

namespace syntonon {
using Kind = JsonView::Kind;

ObjectReader::ObjectReader(const JsonView& json, std::string path, ReadLog& log)
    : path_(std::move(path)), log_(log) {
    if (json.kind() != Kind::object) {
        log_.fail(
            {path_, fmt::format("is {} where an object belongs", json.kind_name()), "write { … }"});
        return;
    }
    members_ = json.members();
    asked_.resize(members_.size());
}

// Objects have few keys: looking through them is quicker than any index.
const JsonView::Member* ObjectReader::find(std::string_view key) const {
    const auto found = std::ranges::find(members_, key, &JsonView::Member::key);
    return found != members_.end() ? &*found : nullptr;
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
    return find(key) != nullptr;
}

bool ObjectReader::is_list(std::string_view key) const {
    const JsonView::Member* found = find(key);
    return found != nullptr && found->value.kind() == Kind::list;
}

const JsonView* ObjectReader::value(std::string_view key) {
    const JsonView::Member* found = find(key);
    if (found == nullptr) {
        return nullptr;
    }
    asked_[static_cast<std::size_t>(found - members_.data())] = true;
    return &found->value;
}

const JsonView* ObjectReader::required(std::string_view key) {
    const JsonView* found = value(key);
    if (found == nullptr) {
        fail(key, "is missing", "add it");
    }
    return found;
}

const JsonView* ObjectReader::array(std::string_view key) {
    const JsonView* found = value(key);
    if (found != nullptr && found->kind() != Kind::list) {
        fail(key, fmt::format("is {} where an array belongs", found->kind_name()), "write [ … ]");
        return nullptr;
    }
    return found;
}

std::string ObjectReader::text(std::string_view key) {
    return required(key) != nullptr ? text_or(key, {}) : std::string();
}

std::string ObjectReader::text_or(std::string_view key, std::string otherwise) {
    const JsonView* found = value(key);
    if (found == nullptr) {
        return otherwise;
    }
    if (found->kind() != Kind::text) {
        fail(key, fmt::format("is {} where text belongs", found->kind_name()), "write \"…\"");
        return otherwise;
    }
    return found->text();
}

double ObjectReader::number(std::string_view key) {
    return required(key) != nullptr ? number_or(key, 0) : 0;
}

double ObjectReader::number_or(std::string_view key, double otherwise) {
    const auto found = optional_number(key);
    return found ? *found : otherwise;
}

std::optional<double> ObjectReader::optional_number(std::string_view key) {
    const JsonView* found = value(key);
    if (found == nullptr) {
        return std::nullopt;
    }
    if (found->kind() != Kind::number) {
        fail(key, fmt::format("is {} where a number belongs", found->kind_name()),
             "write a number without quotes");
        return std::nullopt;
    }
    return found->number();
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
    const JsonView* found = value(key);
    if (found == nullptr) {
        return otherwise;
    }
    if (found->kind() != Kind::boolean) {
        fail(key, fmt::format("is {} where true or false belongs", found->kind_name()),
             "write true or false");
        return otherwise;
    }
    return found->boolean();
}

std::vector<double> ObjectReader::numbers(std::string_view key) {
    const JsonView* found = value(key);
    if (found == nullptr) {
        return {};
    }
    if (found->kind() == Kind::object) {
        const auto members = found->members();
        for (const auto& [form, bytes, unpack] :
             {std::tuple("f64", 8, &doubles_from_base64),
              std::tuple("f32", 4, &doubles_from_base64_floats)}) {
            const auto packed = std::ranges::find(members, form, &JsonView::Member::key);
            if (packed == members.end() || packed->value.kind() != Kind::text) {
                continue;
            }
            auto values = unpack(packed->value.text());
            if (!values) {
                fail(fmt::format("{}.{}", key, form),
                     fmt::format("is not base64 of {}-byte numbers", bytes),
                     "write it again or give a plain array");
            }
            return values.value_or(std::vector<double>{});
        }
    }
    if (found->kind() != Kind::list) {
        fail(key, fmt::format("is {} where an array of numbers belongs", found->kind_name()),
             "write [ … ]");
        return {};
    }
    std::vector<double> values;
    values.reserve(found->element_count()); // a vector that grows would need twice as much
    found->each_element([&](const JsonView& element) {
        if (element.kind() != Kind::number) {
            log_.fail({element_path(key, values.size()),
                       fmt::format("is {} where a number belongs", element.kind_name()),
                       "write a number"});
            return false;
        }
        values.push_back(element.number());
        return true;
    });
    return log_.problem ? std::vector<double>() : values;
}

std::vector<std::complex<double>> ObjectReader::complex_numbers(std::string_view key,
                                                                const char* way_out) {
    std::vector<std::complex<double>> found;
    const JsonView* list = array(key);
    if (list == nullptr) {
        return found;
    }
    list->each_element([&](const JsonView& element) {
        std::vector<double> parts;
        if (element.kind() == Kind::list && element.element_count() == 2) {
            element.each_element([&](const JsonView& part) {
                if (part.kind() == Kind::number) {
                    parts.push_back(part.number());
                }
                return true;
            });
        }
        if (parts.size() != 2) {
            log_.fail({element_path(key, found.size()), "is no pair of numbers", way_out});
            return false;
        }
        found.emplace_back(parts[0], parts[1]);
        return true;
    });
    return found;
}

std::vector<std::string> ObjectReader::texts(std::string_view key) {
    std::vector<std::string> values;
    if (const JsonView* list = array(key)) {
        list->each_element([&](const JsonView& element) {
            if (element.kind() != Kind::text) {
                log_.fail({element_path(key, values.size()),
                           fmt::format("is {} where text belongs", element.kind_name()),
                           "write \"…\""});
                return false;
            }
            values.push_back(element.text());
            return true;
        });
    }
    return log_.problem ? std::vector<std::string>() : values;
}

ObjectReader ObjectReader::object(std::string_view key) {
    const JsonView* found = required(key);
    return {found != nullptr ? *found : JsonView(), path_of(key), log_};
}

UnknownKeys ObjectReader::unknown() {
    UnknownKeys kept;
    for (std::size_t i = 0; i < members_.size(); ++i) {
        const auto& [key, element] = members_[i];
        if (!asked_[i]) {
            kept.keep(json_string(key), compact_json(element.json()));
            log_.warn({path_of(key), "this version does not know it", "it is kept as it is"});
        }
    }
    return kept;
}

double read_sample_rate(ObjectReader& object) {
    const double hz = object.number("sample_rate_hz");
    if (!(hz >= 1 && hz <= 1e8)) {
        object.fail("sample_rate_hz", fmt::format("{} Hz is not a sample rate", hz),
                    "give 1 to 100000000, for example 48000");
    }
    return hz;
}

void check_head(ObjectReader& object, std::string_view format, int newest) {
    if (const std::string found = object.text("format"); found != format) {
        object.fail("format", fmt::format("“{}” is not {}", found, format),
                    "open a file that was saved as that");
    }
    const int version = object.integer_or("version", 1);
    if (version > newest) {
        object.fail(
            "version",
            fmt::format("it was written by a newer program (version {}; this one reads up to {})",
                        version, newest),
            "open it with the newer program");
    } else if (version < 1) {
        object.fail("version", fmt::format("{} is not a version", version),
                    fmt::format("give {}", newest));
    }
}

} // namespace syntonon
