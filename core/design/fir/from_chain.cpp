// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/from_chain.h"

#include "core/base/units.h"
#include "core/design/fir/phase_form.h"
#include "core/math/fft.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <limits>

namespace syntonon {
namespace {

// Where a chain rings on, so much of it is looked at beyond the length.
std::size_t longer_than(std::size_t length) {
    return std::max<std::size_t>(std::bit_ceil(8 * length), 16384);
}

Expected<void> check_chain(const FirTask& task) {
    if (auto ok = check_length(task.length, most_from_chain); !ok) {
        return ok;
    }
    if (!task.brief.above.is_stable()) {
        return refuse("", "the stages above are unstable: they have no impulse response to take",
                      "make them stable first");
    }
    return {};
}

// Of energies: what was left out, and what the fade took.
double left_out_db(const std::vector<double>& whole, const std::vector<double>& taps) {
    double rest = 0, all = 0;
    for (std::size_t n = 0; n < whole.size(); ++n) {
        const double tap = n < taps.size() ? taps[n] : 0;
        rest += (whole[n] - tap) * (whole[n] - tap);
        all += whole[n] * whole[n];
    }
    return rest > 0 ? 10 * std::log10(rest / all) : -std::numeric_limits<double>::infinity();
}

} // namespace

std::size_t length_for_chain(const Filter& chain, bool linear_phase) {
    constexpr std::size_t looked_at = 32768, least = 63;
    const auto response = chain.impulse_response(looked_at);
    double greatest = 0;
    for (const double value : response) {
        greatest = std::max(greatest, std::abs(value));
    }
    std::size_t last = looked_at;
    while (last > 1 && std::abs(response[last - 1]) <= greatest * ratio_from_db(-100)) {
        --last;
    }
    const std::size_t needed = linear_phase ? 2 * last - 1 : last;
    return std::max(least, needed | 1);
}

Expected<FirMade> made(const FromChainFir& method, const FirTask& task) {
    if (auto ok = check_chain(task); !ok) {
        return tl::unexpected(ok.error());
    }
    const std::vector<double> whole = task.brief.above.impulse_response(longer_than(task.length));
    std::vector<double> taps(whole.begin(),
                             whole.begin() + static_cast<std::ptrdiff_t>(task.length));
    // A window of twice the length, of which the second half counts: it begins with all of it.
    WorkingCurve fade{"Fade", window_values(method.window, 2 * task.length)};
    fade.values.erase(fade.values.begin(),
                      fade.values.begin() + static_cast<std::ptrdiff_t>(task.length));
    for (std::size_t n = 0; n < taps.size(); ++n) {
        taps[n] *= fade.values[n];
    }
    const double rest = left_out_db(whole, taps);
    FirMade made{std::move(taps), "Impulse response of the stages above, cut off and faded out"};
    made.steps = {{"Cut off",
                   {{"ε", "energy left out, against all", rest, "dB"},
                    {"M", "samples looked at", static_cast<double>(whole.size()), ""}}}};
    made.window = std::move(fade);
    return made;
}

Expected<FirMade> made_of_magnitude(const FirTask& task, double share) {
    if (auto ok = check_chain(task); !ok) {
        return tl::unexpected(ok.error());
    }
    const std::size_t whole = longer_than(task.length);
    const auto grid =
        FrequencyGrid::linear(0, task.brief.sample_rate_hz / 2, whole / 2 + 1, task.brief.axis());
    if (!grid) {
        return tl::unexpected(grid.error());
    }
    std::vector<double> magnitude;
    for (const FilterValue& value : task.brief.above.values(*grid)) {
        magnitude.push_back(std::abs(value.h));
    }
    if (std::ranges::max(magnitude) == 0) {
        return refuse("", "the stages above let nothing through: silence has no phase",
                      "give them some gain");
    }
    FirMade made{taps_of_magnitude(magnitude, task.length, share),
                 "Magnitude of the stages above with another phase, by the cepstrum (Oppenheim and "
                 "Schafer, Discrete-Time Signal Processing, 3rd ed., section 13.5)"};
    RealFft fft(whole);
    std::ranges::fill(fft.signal(), 0.0);
    std::ranges::copy(made.taps, fft.signal().begin());
    fft.to_spectrum();
    double greatest = 0;
    const double floor = std::ranges::max(magnitude) * ratio_from_db(-60);
    for (std::size_t k = 0; k < magnitude.size(); ++k) {
        if (magnitude[k] > floor) {
            greatest = std::max(
                greatest, std::abs(db_from_ratio(std::abs(fft.spectrum()[k]) / magnitude[k])));
        }
    }
    made.steps = {{"Magnitude",
                   {{"M", "of its samples", static_cast<double>(magnitude.size()), ""},
                    {"ε", "greatest error within 60 dB of the greatest level", greatest, "dB"}}}};
    return made;
}

} // namespace syntonon
