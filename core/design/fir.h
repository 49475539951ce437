// A finite impulse response, designed by one of many methods.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/named_value.h"
#include "core/design/design.h"
#include "core/design/field.h"
#include "core/design/fir/equiripple_fir.h"
#include "core/design/fir/fractional_delay_fir.h"
#include "core/design/fir/from_chain.h"
#include "core/design/fir/least_squares_fir.h"
#include "core/design/fir/sampled.h"
#include "core/design/fir/windowed.h"
#include "core/design/fir/written_fir.h"
#include "core/design/tolerance_fields.h"

#include <span>
#include <string>
#include <string_view>
#include <variant>

namespace syntonon {

using FirMethod =
    std::variant<WindowedFir, SampledFir, LeastSquaresFir, EquirippleFir, RaisedCosineFir,
                 RootRaisedCosineFir, GaussianPulseFir, MovingAverageFir, SavitzkyGolayFir,
                 FractionalDelayFir, FromChainFir>;

// as_made: as the method makes it, which is linear wherever it has bands and no delay of its own.
enum class FirPhase { as_made, linear, minimum, maximum, between };

struct FirSpec {
    static constexpr std::string_view kind = "fir";

    FirMethod method;
    int length = 101; // taps; of one average for moving averages, not used where it follows
    FirPhase phase = FirPhase::as_made;
    double phase_share = 0.25; // between: 0 is minimum, 1/2 linear, 1 maximum phase
    FirWish wish;              // of methods that take bands

    bool operator==(const FirSpec&) const = default;
};

// Plain names, in the study file and for people.
std::span<const NamedValue<std::size_t>> names_of_methods(); // by the variant's index
FirMethod fir_method(std::size_t index);                     // of a name, as it is at first
// With another method, and a length that it can have.
FirSpec with_method(FirSpec spec, std::size_t index);
std::span<const NamedValue<FirPhase>> names_of_phases();
// The share of phase_form.h that a phase stands for; as made counts as linear.
double phase_share_of(const FirSpec& spec);
std::span<const NamedValue<FirSymmetry>> names_of_symmetries();
std::span<const NamedValue<EquirippleFir::Form>> names_of_forms();
std::span<const NamedValue<WindowedFir::Scale>> names_of_scales();
std::span<const NamedValue<FractionalDelayFir::By>> names_of_fir_interpolations();
std::span<const NamedValue<SampledFir::Between>> names_of_betweens();

// Each as the spec is set now.
bool takes_bands(const FirSpec& spec);
bool weighs_errors(const FirSpec& spec);  // by its bands or the goal, and the curve in its wish
bool may_turn_phase(const FirSpec& spec); // it has neither odd symmetry nor a delay of its own
bool length_follows(const FirSpec& spec); // from tolerances, or from the goal's corridor
// Null where it can have none as it is set; none in it: the taps' middle.
const std::optional<double>* delay_of_its_own(const FirSpec& spec);
std::optional<double>* delay_of_its_own(FirSpec& spec);
// Whose filter stands for those of the stages above, too, instead of following them.
bool replaces_above(const FirSpec& spec);

// See tolerance_fields.h.
const Tolerances* tolerances_in_force(const FirSpec& spec);
Tolerances* tolerances_in_force(FirSpec& spec);
ClassicalBand band_of(const FirSpec& spec);

std::span<const NumberField<FirSpec>> fields_of(const FirSpec& spec);
std::span<const NumberRow<FirSpec>> rows_of(const FirSpec& spec); // of its bands
Needs needs_of(const FirSpec& spec);

// Refuses, naming the place, what its method does (fir/*.h), fields out of range, an analog
// channel, and a phase other than linear together with odd symmetry or a delay of its own.
Expected<Design> design(const FirSpec& spec, const Brief& brief, const Watch& watch);
bool is_quick(const FirSpec& spec);

std::string title_of(const FirSpec& spec);
std::string summary_of(const FirSpec& spec);
std::string spoken_name_of(const FirSpec& spec);

} // namespace syntonon
