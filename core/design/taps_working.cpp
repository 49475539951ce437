// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/taps_working.h"

#include "core/base/units.h"
#include "core/design/fir/phase_form.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr double needed_db = -100, heard_db = -60;

std::string type_words(int symmetry, std::size_t length) {
    if (symmetry == 0) {
        return "delay: none for all frequencies, the taps are not symmetric";
    }
    const bool even_length = length % 2 == 0;
    return symmetry > 0
               ? std::string("delay: the taps are symmetric, type ") + (even_length ? "II" : "I")
               : std::string("delay: the taps are antisymmetric, type ")
                     + (even_length ? "IV" : "III");
}

// From the first to the last tap that is not below the level, against the greatest.
double needed(std::span<const double> values, double greatest) {
    const auto counts = [&](double tap) {
        return std::abs(tap) >= greatest * ratio_from_db(needed_db);
    };
    const auto first = std::ranges::find_if(values, counts);
    auto last = values.end();
    while (last != first && !counts(*(last - 1))) {
        --last;
    }
    return static_cast<double>(last - first);
}

} // namespace

WorkingStep step_of_taps(const Taps& taps, double sample_rate_hz) {
    const auto values = taps.values();
    const auto count = static_cast<double>(values.size());
    double sum = 0, alternating = 0, energy = 0;
    for (std::size_t n = 0; n < values.size(); ++n) {
        sum += values[n];
        alternating += n % 2 == 0 ? values[n] : -values[n];
        energy += values[n] * values[n];
    }
    const auto greatest =
        std::ranges::max_element(values, {}, [](double tap) { return std::abs(tap); });
    const PreRinging before = pre_ringing(values, heard_db);
    const double ms = 1e3 / sample_rate_hz;
    WorkingStep step{"Of the taps", {}};
    step.numbers = {
        {"N", "number of taps", count, ""},
        {"N − 1", "order", count - 1, ""},
        {"(N − 1)/2", type_words(taps.symmetry(), values.size()), (count - 1) / 2, "samples"},
        {"", "the same", (count - 1) / 2 * ms, "ms"},
        {"Σ h", "gain at 0 Hz", sum, ""},
        {"Σ (−1)ⁿ h", "gain at half the sample rate", alternating, ""},
        {"Σ h²", "energy", energy, ""},
        {"Σ |h|", "greatest output for an input within ±1", taps.size(), ""},
        {"max |h|", "greatest tap", *greatest, ""},
        {"n", "its place", static_cast<double>(greatest - values.begin()), "samples"},
        {"N−100", "taps down to −100 dB of it", needed(values, std::abs(*greatest)), ""},
        {"Epre", "energy before it, against all", before.energy_db, "dB"},
        {"tpre", "the first tap within 60 dB of it comes earlier by", before.earliest_samples * ms,
         "ms"}};
    return step;
}

} // namespace syntonon
