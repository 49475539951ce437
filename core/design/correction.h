// A correction of what is measured, found by a fit (core/fit) and kept: opening a study never
// changes it. The settings say what the next fit may do; the filter is made of what was found.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/named_value.h"
#include "core/base/unknown_keys.h"
#include "core/design/design.h"
#include "core/design/field.h"
#include "core/design/parametric.h"
#include "core/filter/taps.h"
#include "core/math/window.h"

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

namespace syntonon {

struct FoundSection {
    ParametricSpec section;
    bool locked = false; // stays as it is when fitted again
    UnknownKeys unknown = {};

    bool operator==(const FoundSection&) const = default;
};

// No section sharper than this near that frequency; log Q straight over log frequency.
struct QLimit {
    double frequency_hz = 1000;
    double q = 8;
    UnknownKeys unknown = {};

    bool operator==(const QLimit&) const = default;
};

// No more boost than this near that frequency; straight in dB over log frequency.
struct BoostLimit {
    double frequency_hz = 1000;
    double boost_db = 6;
    UnknownKeys unknown = {};

    bool operator==(const BoostLimit&) const = default;
};

inline constexpr int most_sections_by_tolerance = 40;

// What is made alike. With timing, all-passes are found beside bells and shelves.
enum class CorrectionMatch {
    magnitude, // the level
    complex,   // level and phase: 6.6 degrees off count as 1 dB, both being 0.115 nepers
    delay      // level and group delay: as that, by how much the phase turns over a third of an
               // octave
};

// Parametric sections.
struct SectionsCorrection {
    int count = 12;                     // at most so many, locked ones too
    std::optional<double> tolerance_db; // fewer as soon as every error is within it
    double section_boost_limit_db = 9, section_cut_limit_db = 18;
    double greatest_q = 8;
    CorrectionMatch match = CorrectionMatch::magnitude;
    int all_passes = 4;              // at most so many beside `count`, where timing counts
    std::vector<QLimit> q_limits;    // where there are some, instead of greatest_q
    double gain_step_db = 0;         // gains are whole multiples; 0: any
    double frequency_steps_oct = 0;  // frequencies so many steps an octave from 1 kHz; 0: any
    std::vector<FoundSection> found; // "sections" in the file
    // Found with them where timing counts: by how much later than the aim's phase or delay.
    double delay_ms = 0;

    bool operator==(const SectionsCorrection&) const = default;
};

// One FIR.
struct TapsCorrection {
    enum class Phase { minimum, linear, mixed };
    int length = 4096;
    Phase phase = Phase::minimum;
    // Where the sound stands in the taps; linear phase: in their middle, else as early as can be.
    std::optional<int> delay_samples;
    // What stands before the sound is weighted with the window's first half, what follows with its
    // second one.
    Window window{WindowShape::tukey, 0.125, {}};
    double pre_ringing_db = -40, pre_ringing_ms = 5; // of mixed phase: no louder, no longer
    TapValues found = nullptr;                       // "taps" in the file; null: not fitted yet
    int sound_at_samples = 0;                        // found with them, as delay_samples
    // Of mixed phase, found with them: up to where timing is corrected (0: nowhere), and how loud
    // the worst position rings earlier than allowed to be heard, in dB of its greatest sample.
    double timing_up_to_hz = 0, worst_pre_ringing_db = 0;

    bool operator==(const TapsCorrection& other) const;
};

// Of several positions: what is made small.
enum class CorrectionOver {
    average,       // the error of what they come to together
    worst_position // the greatest of their errors, none of them greater than it was
};

struct CorrectionSpec {
    static constexpr std::string_view kind = "correction";

    double from_hz = 40, to_hz = 16000;
    double boost_limit_db = 6, cut_limit_db = 15; // of all of it
    std::vector<BoostLimit> boost_limits = {};    // where there are some, instead of boost_limit_db
    double smoothing_oct = 1.0 / 6;               // the mean in dB over it is corrected
    double spread_db = 4;                         // see fit/correction_aim.h; 0: not minded
    double dip_db = 6;                            // the same
    CorrectionOver over = CorrectionOver::average;
    bool refits = false; // by itself, when what it was fitted to changes
    std::variant<SectionsCorrection, TapsCorrection> method = {};
    std::string fitted_to = {};              // see fit/fitted_to.h; empty: never fitted
    std::vector<double> fitted_aim_db = {};  // the same
    std::vector<double> fitted_aim_deg = {}; // where timing counts

    bool operator==(const CorrectionSpec&) const = default;
};

std::span<const NamedValue<std::size_t>> names_of_correction_methods(); // by the variant's index
std::span<const NamedValue<TapsCorrection::Phase>> names_of_correction_phases();
std::span<const NamedValue<CorrectionOver>> names_of_correction_overs();
std::span<const NamedValue<CorrectionMatch>> names_of_correction_matches();

// The sharpest section that is allowed about a frequency.
double q_limit_at(const SectionsCorrection& method, double hz);
// How much all of it may boost at a frequency.
double boost_limit_at(const CorrectionSpec& spec, double hz);
std::size_t found_count(const CorrectionSpec& spec); // sections or taps
bool minds_timing(const CorrectionSpec& spec);       // sections that do
bool is_fitted(const CorrectionSpec& spec);

// Refuses what no fit can keep to: an empty range, limits that contradict one another.
Expected<void> check_settings(const CorrectionSpec& spec);

// What was found, as a filter; a wire before anything was. Refuses an analog channel and, at
// "sections[3].q", what a parametric section refuses.
Expected<Design> design(const CorrectionSpec& spec, const Brief& brief, const Watch& watch);
std::span<const NumberField<CorrectionSpec>> fields_of(const CorrectionSpec& spec);
std::span<const NumberRow<CorrectionSpec>> rows_of(const CorrectionSpec& spec); // found sections'

std::string title_of(const CorrectionSpec& spec);
std::string summary_of(const CorrectionSpec& spec);
std::string spoken_name_of(const CorrectionSpec& spec);

} // namespace syntonon
