// How loud a signal is, in the ways that it is asked.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <cstddef>
#include <optional>
#include <span>
#include <vector>

namespace syntonon {

// In dB of full scale; nothing for silence. 0 dBFS is a sine of peak 1 (AES17), in power as in
// peak.
struct SignalLevels {
    std::optional<double> level_db;      // of the mean power
    std::optional<double> peak_db;       // of the greatest sample
    std::optional<double> true_peak_db;  // of the wave between the samples (ITU-R BS.1770-4, annex
                                         // 2); up to 192 kHz
    std::optional<double> crest_db;      // peak over root mean square: a sine has 3.01
    std::optional<double> loudness_lufs; // integrated, gated (ITU-R BS.1770-4); nothing for what is
                                         // shorter than 400 ms, too, or quieter than -70 LUFS
    std::size_t beyond_full_scale = 0;   // samples above 1 in magnitude
};
SignalLevels levels_of(std::span<const double> signal, double sample_rate_hz);

// The gain in dB that brings one to the other's loudness; where one of them has none, to its
// level; 0 where neither can be told.
double gain_to_match_db(const SignalLevels& of, const SignalLevels& wanted);

// The level of each stretch of so many samples, from the start; the last may be shorter. -infinity
// for silence.
std::vector<double> level_over_time(std::span<const double> signal, std::size_t stretch);

// How many samples lie in each of `count` equal steps from -peak to +peak; those beyond count to
// the last ones.
std::vector<std::size_t> histogram_of(std::span<const double> signal, double peak,
                                      std::size_t count);

} // namespace syntonon
