// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/analog_side.h"

#include "core/base/units.h"
#include "core/design/classical_plan.h"
#include "core/design/impulse_invariance.h"
#include "core/design/mapped_roots.h"
#include "core/study/kinds.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

class AnalogWherePossible : public Designer {
public:
    Expected<Design> design(const StageSpec& spec, const Brief& brief,
                            const Watch& watch) const override {
        Brief analog = brief;
        analog.domain = Domain::analog;
        auto made = Designer::design(spec, analog, watch);
        return made ? std::move(made) : Designer::design(spec, brief, watch);
    }
};

// What tolerances came to in continuous time, as order, edges and levels: warped edges would take
// another order, and that would be another filter.
void keep_order(StageSpec& spec, const Axis& analog) {
    auto* classical = std::get_if<ClassicalSpec>(&spec.edit());
    if (classical == nullptr || !classical->by_tolerances) {
        return;
    }
    const auto plan = plan_of(*classical, analog);
    if (!plan) {
        return; // what is wrong with it is said of the stage
    }
    classical->by_tolerances = false;
    classical->order = plan->order;
    if (has_pass_ripple(classical->family)) {
        classical->pass_ripple_db = plan->pass_ripple_db;
    }
    if (has_stop_attenuation(classical->family)) {
        classical->stop_attenuation_db = plan->stop_attenuation_db;
    }
    for (std::size_t i = 0; i < (has_two_edges(classical->band) ? 2U : 1U); ++i) {
        classical->edges_hz.at(i) = hz_from_rad_per_s(plan->edges_rad_per_s.at(i));
    }
}

void use_bilinear(Chain& chain, const Axis& analog) {
    edit_every_stage(chain, [&](Stage& stage) {
        use_bilinear(stage.spec);
        keep_order(stage.spec, analog);
    });
}

// The chain's roots as if they were a band's, with the gain said at `reference_rad_per_s`.
BandRoots as_band(const Roots& roots, double reference_rad_per_s) {
    BandRoots band;
    for (const auto& zero : roots.zeros) {
        if (zero == 0.0) {
            ++band.zeros_at_origin;
        } else {
            band.zeros.push_back(zero);
        }
    }
    band.poles = roots.poles;
    band.zeros_at_infinity =
        static_cast<int>(roots.poles.size()) - static_cast<int>(roots.zeros.size());
    band.middle_rad_per_s = reference_rad_per_s;
    return band;
}

struct MappedRoots {
    RootsSpec spec;
    double delay_samples = 0;
};

MappedRoots roots_of_drafts(const SectionDrafts& found, double sample_rate_hz, double sign) {
    const auto made =
        sections_of(found.drafts, SectionPlan{}, found.reference, Axis(sample_rate_hz));
    const Roots& roots = *made.filter.roots();
    return {{roots.zeros, roots.poles, sign * roots.gain}, roots.delay_samples};
}

// Where the chain is loudest between 1 Hz and half the rate: its gain is kept there.
double loudest_rad_per_s(const Filter& chain, const Axis& axis) {
    const double high = axis.sample_rate_hz / 2;
    double hz = std::min(1.0, high / 100);
    constexpr double ratio = 1.05;
    auto candidates = chain.telling_hz({hz, high, ratio, axis});
    for (; hz < high; hz *= ratio) {
        candidates.push_back(hz);
    }
    const Probe probe(chain, axis);
    std::erase_if(candidates, [&](double f) { return !std::isfinite(probe.level_db(f)); });
    return rad_per_s_from_hz(
        candidates.empty() ? 0 : *std::ranges::max_element(candidates, {}, [&](double f) {
            return probe.level_db(f);
        }));
}

Expected<MappedRoots> roots_in_z(const Filter& chain, const Axis& axis, PlaneMapping mapping) {
    const auto& roots = chain.roots();
    if (!roots) {
        return tl::unexpected(roots.error());
    }
    if (roots->poles.empty()) {
        return MappedRoots{{{}, {}, chain.at_once()}};
    }
    const double rate = axis.sample_rate_hz, at = loudest_rad_per_s(chain, axis);
    BandRoots band = as_band(*roots, at);
    band.passband_level = std::abs(Probe(chain, axis).value(hz_from_rad_per_s(at)).h);
    const double sign = roots->gain < 0 ? -1 : 1;
    if (mapping == PlaneMapping::matched) {
        return roots_of_drafts(
            matched_drafts(band, ClassicalBand::band_pass, SectionPairing::nearest, rate), rate,
            sign);
    }
    if (band.zeros_at_infinity < 1) {
        return refuse("",
                      "it lets frequencies without end through, and sampling its impulse "
                      "response would fold them all into one",
                      "use bilinear or matched");
    }
    return roots_of_drafts(
        impulse_invariant_drafts(band, ClassicalBand::band_pass, SectionPairing::nearest, rate),
        rate, sign);
}

std::string_view words_of(PlaneMapping mapping) {
    switch (mapping) {
    case PlaneMapping::impulse_invariant:
        return "impulse invariant";
    case PlaneMapping::matched:
        return "matched z";
    case PlaneMapping::bilinear:
        break;
    }
    return "bilinear";
}

} // namespace

bool use_bilinear(StageSpec& spec) {
    return std::visit(
        []<class Spec>(Spec& s) {
            if constexpr (std::is_same_v<Spec, ClassicalSpec>) {
                return std::exchange(s.mapping, PlaneMapping::bilinear) != PlaneMapping::bilinear;
            } else if constexpr (std::is_same_v<Spec, ParametricSpec>) {
                return std::exchange(s.mapping, ParametricMapping::bilinear)
                       != ParametricMapping::bilinear;
            } else {
                return false;
            }
        },
        spec.edit());
}

bool has_analog_side(const StageSpec& spec) {
    return std::holds_alternative<ClassicalSpec>(*spec)
           || std::holds_alternative<ParametricSpec>(*spec);
}

bool is_impulse_invariant(const StageSpec& spec) {
    const auto* classical = std::get_if<ClassicalSpec>(&*spec);
    return classical != nullptr && classical->mapping == PlaneMapping::impulse_invariant;
}

const Designer& analog_where_possible() {
    static const AnalogWherePossible designer;
    return designer;
}

Expected<Channel> mapped_channel(const Study& study, const Channel& analog, PlaneMapping mapping,
                                 Briefs& briefs) {
    if (analog.domain != Domain::analog) {
        return refuse("channel " + analog.id, "is sampled already", "choose an analog channel");
    }
    Channel made = analog;
    made.name = fmt::format("{} ({})", analog.name, words_of(mapping));
    made.id = fresh_id(study, made.name);
    made.domain = Domain::sampled;
    made.mapped_from = analog.id;
    made.colour.clear();
    made.takes.clear();
    made.difference.reset();
    if (mapping == PlaneMapping::bilinear) {
        use_bilinear(made.stages, axis_of(study, analog));
        return made;
    }
    const DesignedChain chain = briefs.design(study, analog);
    if (!chain.problems.empty()) {
        return tl::unexpected(within("channel " + analog.id, chain.problems.front()));
    }
    auto found = roots_in_z(chain.filter, axis_of(study, analog), mapping);
    if (!found) {
        return tl::unexpected(within("channel " + analog.id, found.error()));
    }
    Stage stage;
    stage.id = "s1";
    stage.name = made.name;
    stage.spec = std::move(found->spec);
    made.stages = {SharedValue<Stage>(std::move(stage))};
    if (found->delay_samples > 0) {
        Stage delay;
        delay.id = "s2";
        delay.spec = DelaySpec{DelayUnit::samples, found->delay_samples};
        made.stages.emplace_back(std::move(delay));
    }
    return made;
}

} // namespace syntonon
