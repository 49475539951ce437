// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/requirement_json.h"

#include <array>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

// A requirement's numbers with their keys: read and written by the same list.
template <class Spec>
struct Field {
    const char* key;
    double Spec::*member;
};

constexpr auto fields(const RippleRequirement&) {
    using S = RippleRequirement;
    return std::to_array<Field<S>>(
        {{"from_hz", &S::from_hz}, {"to_hz", &S::to_hz}, {"max_db", &S::max_db}});
}
constexpr auto fields(const AttenuationRequirement&) {
    using S = AttenuationRequirement;
    return std::to_array<Field<S>>(
        {{"from_hz", &S::from_hz}, {"to_hz", &S::to_hz}, {"min_db", &S::min_db}});
}
constexpr auto fields(const LevelRequirement&) {
    return std::to_array<Field<LevelRequirement>>({{"at_hz", &LevelRequirement::at_hz}});
}
constexpr auto fields(const CrossingRequirement&) {
    using S = CrossingRequirement;
    return std::to_array<Field<S>>(
        {{"level_db", &S::level_db}, {"min_hz", &S::min_hz}, {"max_hz", &S::max_hz}});
}
constexpr auto fields(const GroupDelayRequirement&) {
    using S = GroupDelayRequirement;
    return std::to_array<Field<S>>({{"from_hz", &S::from_hz},
                                    {"to_hz", &S::to_hz},
                                    {"value_samples", &S::value_samples},
                                    {"tolerance_samples", &S::tolerance_samples}});
}
constexpr auto fields(const PeakGainRequirement&) {
    return std::to_array<Field<PeakGainRequirement>>({{"max_db", &PeakGainRequirement::max_db}});
}
constexpr auto fields(const LatencyRequirement&) {
    return std::to_array<Field<LatencyRequirement>>(
        {{"max_samples", &LatencyRequirement::max_samples}});
}
constexpr auto fields(const StabilityRequirement&) {
    return std::to_array<Field<StabilityRequirement>>(
        {{"min_margin", &StabilityRequirement::min_margin}});
}
constexpr auto fields(const SectionsRequirement&) {
    return std::to_array<Field<SectionsRequirement>>(
        {{"max_sections", &SectionsRequirement::max_sections}});
}
constexpr auto fields(const UnknownRequirement&) {
    return std::array<Field<UnknownRequirement>, 0>{};
}

template <class Spec>
void read_fields(ObjectReader& object, Spec& spec) {
    for (const auto& [key, member] : fields(spec)) {
        spec.*member = object.number(key);
    }
}

template <class Spec>
bool read_if(ObjectReader& object, const std::string& kind, RequirementSpec& out) {
    if (kind.empty() || kind != Spec::kind) {
        return false;
    }
    Spec spec;
    read_fields(object, spec);
    if constexpr (std::is_same_v<Spec, LevelRequirement>) {
        spec.min_db = object.optional_number("min_db");
        spec.max_db = object.optional_number("max_db");
    }
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
            object["kind"] = Spec::kind;
            for (const auto& [key, member] : fields(spec)) {
                object[key] = spec.*member;
            }
            if constexpr (std::is_same_v<Spec, LevelRequirement>) {
                for (const auto& [key, limit] :
                     {std::pair{"min_db", spec.min_db}, {"max_db", spec.max_db}}) {
                    if (limit) {
                        object[key] = *limit;
                    }
                }
            } else if constexpr (std::is_same_v<Spec, UnknownRequirement>) {
                object["kind"] = spec.its_kind;
            }
        },
        requirement.spec);
    write_unknown(object, requirement.unknown);
    return object;
}

} // namespace syntonon
