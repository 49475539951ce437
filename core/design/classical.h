// Classical recursive filters: analog low-pass prototypes, turned into bands, kept in the s-plane
// or mapped to the z-plane, as second-order sections. Roots stay roots all the way.
//
// T. W. Parks and C. S. Burrus, Digital Filter Design, 1987, chapter 7; A. V. Oppenheim and R. W.
// Schafer, Discrete-Time Signal Processing, 3rd ed., chapter 7 and appendix B; S. J. Orfanidis,
// Lecture Notes on Elliptic Filter Design, 2006.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/named_value.h"
#include "core/base/unknown_keys.h"
#include "core/design/design.h"
#include "core/design/field.h"
#include "core/design/prototype.h"
#include "core/design/sections.h"
#include "core/design/tolerances.h"

#include <array>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

enum class ClassicalFamily {
    butterworth,
    chebyshev,
    inverse_chebyshev,
    elliptic,
    bessel,
    legendre,
    gaussian,
    linkwitz_riley, // low- and high-pass of even orders
    synchronous
};
enum class PlaneMapping { bilinear, impulse_invariant, matched };
// What rounding the order up is spent on; the other three are met exactly.
enum class Better { pass_edge, stop_edge, ripple, attenuation };

struct ClassicalSpec {
    static constexpr std::string_view kind = "classical";

    ClassicalFamily family = ClassicalFamily::butterworth;
    ClassicalBand band = ClassicalBand::low_pass;
    bool by_tolerances = false; // else by order; the numbers of the other way are kept

    int order = 4; // of the low-pass prototype
    // The second one for band-pass and band-stop. Half power; -6 dB (Linkwitz-Riley), end of the
    // ripple (Chebyshev, elliptic), start of the stopband (inverse Chebyshev).
    std::array<double, 2> edges_hz{1000, 2000};
    double pass_ripple_db = 0.5;     // Chebyshev, elliptic
    double stop_attenuation_db = 60; // inverse Chebyshev, elliptic
    BesselEdge normalised_to = BesselEdge::level;

    Tolerances tolerances;
    Better better = Better::attenuation;

    PlaneMapping mapping = PlaneMapping::bilinear; // nothing in an analog channel
    SectionPlan sections;
    UnknownKeys unknown_of_sections = {};

    bool operator==(const ClassicalSpec&) const = default;
};

// See tolerance_fields.h.
inline const Tolerances* tolerances_in_force(const ClassicalSpec& spec) {
    return spec.by_tolerances ? &spec.tolerances : nullptr;
}
inline Tolerances* tolerances_in_force(ClassicalSpec& spec) {
    return spec.by_tolerances ? &spec.tolerances : nullptr;
}
inline ClassicalBand band_of(const ClassicalSpec& spec) {
    return spec.band;
}

bool has_pass_ripple(ClassicalFamily family);
bool has_stop_attenuation(ClassicalFamily family);

std::span<const NumberField<ClassicalSpec>> fields_of(const ClassicalSpec& spec);
// The edges, of a filter that is stated by its order; zeros of families that have some of their
// own.
std::vector<std::string_view> fields_moving_roots(const ClassicalSpec& spec, bool poles);
// Refuses, naming the field ("edges_hz[0]", "spec.stop_edges_hz[1]"): edges that are out of range
// or order, tolerances that no filter meets, an order beyond 50, what a mapping or family cannot
// do, and a filter whose double coefficients miss the edge by more than greatest_miss_db.
Expected<Design> design(const ClassicalSpec& spec, const Brief& brief, const Watch& watch);
inline constexpr double greatest_miss_db = 0.01;
// Zeros of a sampled impulse response are searched for.
bool is_quick(const ClassicalSpec& spec);

std::span<const NamedValue<ClassicalFamily>> names_of_families();
std::span<const NamedValue<PlaneMapping>> names_of_mappings();
std::span<const NamedValue<Better>> names_of_betters();
std::span<const NamedValue<BesselEdge>> names_of_bessel_edges();
std::span<const NamedValue<SectionPairing>> names_of_pairings();
std::span<const NamedValue<SectionOrder>> names_of_section_orders();
std::span<const NamedValue<SectionGain>> names_of_section_gains();
std::string_view title_of(ClassicalFamily family);

std::string title_of(const ClassicalSpec& spec);
std::string summary_of(const ClassicalSpec& spec);
std::string spoken_name_of(const ClassicalSpec& spec);

} // namespace syntonon
