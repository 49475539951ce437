// A recursive filter found by a fit and kept: opening a study never changes it. The settings say
// what the next fit does; the filter is made of the roots that were found.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/named_value.h"
#include "core/design/design.h"
#include "core/design/field.h"
#include "core/goal/target.h"

#include <complex>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

enum class FittedMatch {
    magnitude, // the level; the phase is what belongs to it
    complex,   // level and phase: 6.6 degrees off count as 1 dB, both being 0.115 nepers
    delay,     // the group delay, by all-passes: the level stays
    impulse,   // an impulse response, sample by sample
    phase      // by all-passes, and a delay and the polarity that go with them: the level stays
};

// How a model of an impulse response is found; see fit/recursive/impulse_models.h.
enum class ImpulseMethod { steiglitz_mcbride, prony, balanced_truncation };

// What is made small of the errors: their squares, or the greatest of them.
enum class FittedErrors { squares, greatest };

// Over what errors count alike.
enum class FittedAxis {
    log_frequency,
    linear_frequency,
    warped // as a first-order all-pass bends it, `warping`; near log frequency over a middle range
};

struct FittedSpec {
    static constexpr std::string_view kind = "fitted";

    int order = 8;                      // poles
    std::optional<int> numerator_order; // zeros; as many as poles. Not with `delay`
    FittedMatch match = FittedMatch::magnitude;
    // What it is fitted to, chain and measured set with it: this, or the goal's.
    std::optional<Target> target;
    std::optional<TargetLine> phase_target; // degrees, as a goal's
    std::optional<TargetLine> delay_target; // ms, as a goal's
    // Of `impulse`: that of a curve (its id), or of the stages above, for which the model then
    // stands. So many samples of it count, a curve's from where its sound arrives.
    std::string curve;
    // Of `phase`: that of another channel (its id) with what was measured of it, against this
    // one's; empty: what is stated.
    std::string channel;
    ImpulseMethod method = ImpulseMethod::steiglitz_mcbride;
    int length = 512;
    double from_hz = 20, to_hz = 20000; // `impulse`: where errors are told
    FittedErrors errors = FittedErrors::squares;
    FittedAxis axis = FittedAxis::log_frequency;
    double warping = 0.75;  // of the all-pass that bends the axis; about Bark's at 48 kHz
    double greatest_q = 60; // of a pole
    bool refits = false;    // by itself, when what it was fitted to changes

    std::vector<std::complex<double>> zeros, poles; // found, as of kind `roots`
    double gain = 1;
    double delay_ms = 0;   // found with `delay`: of the whole chain, where no delay is stated
    int delay_samples = 0; // found with `impulse` (before the model's first sample) and `phase`
    double bound = 0;      // found by balanced truncation: of the error of the response, a ratio
    std::string fitted_to; // see fit/fitted_to.h; empty: never fitted
    std::vector<double> fitted_aim_db;  // the same
    std::vector<double> fitted_aim_deg; // the same, where phase or delay count

    bool operator==(const FittedSpec&) const = default;
};

inline constexpr int greatest_fitted_order = 60;

std::span<const NamedValue<FittedMatch>> names_of_fitted_matches();
std::span<const NamedValue<FittedErrors>> names_of_fitted_errors();
std::span<const NamedValue<FittedAxis>> names_of_fitted_axes();
std::span<const NamedValue<ImpulseMethod>> names_of_impulse_methods();

bool is_fitted(const FittedSpec& spec);
bool turns_polarity(const FittedSpec& spec); // found with `phase`: at 0 Hz it is -1
// Not of all-passes, which mirror their poles, nor of a balanced model: as many as states.
bool may_state_zeros(const FittedSpec& spec);
int zeros_wanted(const FittedSpec& spec);
bool replaces_above(const FittedSpec& spec); // as a model of it, once that was found

// Refuses what no fit can keep to.
Expected<void> check_settings(const FittedSpec& spec);

// What was found, as a filter; a wire before anything was. Refuses an analog channel, and what kind
// `roots` refuses.
Expected<Design> design(const FittedSpec& spec, const Brief& brief, const Watch& watch);
std::span<const NumberField<FittedSpec>> fields_of(const FittedSpec& spec);

std::string title_of(const FittedSpec& spec);
std::string summary_of(const FittedSpec& spec);
std::string spoken_name_of(const FittedSpec& spec);

} // namespace syntonon
