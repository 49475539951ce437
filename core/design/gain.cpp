// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/gain.h"

#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/filter/gain.h"

#include <array>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr double most_db = 120, most_factor = 1e6;

constexpr std::array gain_fields = std::to_array<NumberField<GainSpec>>({
    {"gain_db", "Gain", "dB", Dimension::level, -most_db, most_db, FieldSteps::by_tenth,
     [](const GainSpec& s) { return s.factor ? std::nullopt : std::optional(s.gain_db); },
     [](GainSpec& s, double v) {
         s.gain_db = v;
         s.factor.reset();
     }},
    {"factor", "or factor", "", Dimension::plain, -most_factor, most_factor, FieldSteps::by_tenth,
     [](const GainSpec& s) { return s.factor; },
     [](GainSpec& s, double v) {
         s.factor = v;
         s.invert = false;
     }},
});

Working working_of_gain(const GainSpec& spec) {
    const double factor = factor_of(spec);
    Working shown{"One product a sample", {}};
    WorkingStep step{"Factor", {}};
    if (!spec.factor) {
        step.numbers.push_back({"G", "gain", spec.gain_db, "dB"});
    }
    step.numbers.push_back({"g", spec.factor ? "as stated" : "10^(G/20)", factor, ""});
    shown.steps.push_back(std::move(step));
    return shown;
}

} // namespace

double factor_of(const GainSpec& spec) {
    return spec.factor.value_or((spec.invert ? -1 : 1) * ratio_from_db(spec.gain_db));
}

Expected<Design> design(const GainSpec& spec, const Brief&, const Watch&) {
    if (auto ok = check_fields(spec); !ok) {
        return tl::unexpected(ok.error());
    }
    return Design{Filter(Gain{factor_of(spec)}), [spec] { return working_of_gain(spec); }};
}

std::span<const NumberField<GainSpec>> fields_of(const GainSpec&) {
    return gain_fields;
}

std::string title_of(const GainSpec&) {
    return "Gain";
}

std::string summary_of(const GainSpec& spec) {
    return spec.factor ? fmt::format("× {:.4g}", *spec.factor)
                       : signed_text(spec.gain_db, 1) + " dB" + (spec.invert ? ", inverted" : "");
}

std::string spoken_name_of(const GainSpec& spec) {
    return "Gain " + summary_of(spec);
}

} // namespace syntonon
