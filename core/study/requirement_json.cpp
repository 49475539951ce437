// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/requirement_json.h"

#include "core/goal/requirement_fields.h"

#include <array>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

constexpr std::array all_units = {TimeUnit::samples, TimeUnit::ms, TimeUnit::s};

std::string time_key(const char* stem, TimeUnit unit) {
    return fmt::format("{}_{}", stem, key_of(unit));
}

struct FieldReader {
    ObjectReader& object;

    void operator()(const RequirementField& field, double& value) {
        value = object.number(field.key);
    }
    void operator()(const RequirementField& field, std::optional<double>& value) {
        value = object.optional_number(field.key);
    }
    void operator()(const RequirementField& field, std::optional<Duration>& value) {
        value.reset();
        for (const TimeUnit unit : all_units) {
            const std::string key = time_key(field.key, unit);
            if (const auto number = object.optional_number(key)) {
                if (value) {
                    object.fail(key, "the time is given twice", "keep one unit");
                }
                value = Duration{*number, unit};
            }
        }
    }
    void operator()(const RequirementField& field, ChannelIds& value) {
        value.ids = object.texts(field.key);
    }
    void operator()(const RequirementField& field, Duration& value) {
        std::optional<Duration> found;
        (*this)(field, found);
        if (!found) {
            object.number(time_key(field.key, value.unit)); // says that it is missing
        }
        value = found.value_or(value);
    }
};

struct FieldWriter {
    Json& object;

    void operator()(const RequirementField& field, double value) { object.set(field.key, value); }
    void operator()(const RequirementField& field, const Duration& value) {
        object.set(time_key(field.key, value.unit), value.value);
    }
    void operator()(const RequirementField& field, const ChannelIds& value) {
        if (!value.ids.empty()) {
            object.set(field.key, list_json(value.ids, [](const std::string& id) { return id; }));
        }
    }
    template <class T>
    void operator()(const RequirementField& field, const std::optional<T>& value) {
        if (value) {
            (*this)(field, *value);
        }
    }
};

template <class Spec>
bool read_if(ObjectReader& object, const std::string& kind, RequirementSpec& out) {
    if (kind.empty() || kind != Spec::kind) {
        return false;
    }
    Spec spec;
    each_field(spec, FieldReader{object});
    out = spec;
    return true;
}

template <std::size_t... i>
bool read_any(ObjectReader& object, const std::string& kind, RequirementSpec& out,
              std::index_sequence<i...>) {
    return (read_if<std::variant_alternative_t<i, RequirementSpec>>(object, kind, out) || ...);
}

} // namespace

Requirement read_requirement(ObjectReader object) {
    Requirement requirement;
    const std::string kind = object.text("kind");
    if (!read_any(object, kind, requirement.spec,
                  std::make_index_sequence<std::variant_size_v<RequirementSpec>>())) {
        requirement.spec = UnknownRequirement{kind};
    }
    requirement.unknown = object.unknown();
    return requirement;
}

Json requirement_json(const Requirement& requirement) {
    Json object;
    std::visit(
        [&](const auto& spec) {
            using Spec = std::decay_t<decltype(spec)>;
            if constexpr (std::is_same_v<Spec, UnknownRequirement>) {
                object.set("kind", spec.its_kind);
            } else {
                object.set("kind", Spec::kind);
            }
            each_field(spec, FieldWriter{object});
        },
        requirement.spec);
    object.set_unknown(requirement.unknown);
    return object;
}

} // namespace syntonon
