// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/time_forms.h"

#include "core/base/units.h"
#include "core/design/fir/phase_form.h"
#include "core/filter/taps.h"
#include "core/math/fft.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace syntonon {
namespace {

constexpr double audible_db = -60;
constexpr double longest_burst = 1 << 20;

// Back from the greatest tap to where the taps last changed sign.
double main_lobe_start(std::span<const double> taps) {
    const auto greatest =
        std::ranges::max_element(taps, {}, [](double tap) { return std::abs(tap); });
    auto at = greatest;
    while (at != taps.begin() && *(at - 1) * *greatest > 0) {
        --at;
    }
    return static_cast<double>(at - taps.begin());
}

PreRingingRegion region_before(std::span<const double> answer, double onset, double reference,
                               double energy) {
    const auto end = static_cast<std::ptrdiff_t>(
        std::clamp(std::ceil(onset), 0.0, static_cast<double>(answer.size())));
    const std::span<const double> before = answer.first(static_cast<std::size_t>(end));
    const double least = std::abs(reference) * ratio_from_db(audible_db);
    const auto first =
        std::ranges::find_if(before, [least](double v) { return std::abs(v) >= least; });
    PreRingingRegion region{onset, onset, -infinity, -infinity};
    if (first == before.end() || !(reference != 0)) {
        return region;
    }
    double greatest = 0, sum = 0;
    for (const double v : std::span(first, before.end())) {
        greatest = std::max(greatest, std::abs(v));
        sum += v * v;
    }
    region.from = static_cast<double>(first - before.begin());
    const double all =
        energy > 0 ? energy : reference * reference * static_cast<double>(before.end() - first);
    region.energy_db = db_from_power(sum / all);
    region.greatest_db = db_from_ratio(greatest / std::abs(reference));
    return region;
}

double energy_of(std::span<const double> samples) {
    return std::inner_product(samples.begin(), samples.end(), samples.begin(), 0.0);
}

double greatest_of(std::span<const double> samples) {
    double greatest = 0;
    for (const double v : samples) {
        greatest = std::max(greatest, std::abs(v));
    }
    return greatest;
}

} // namespace

std::vector<double> ToneBurst::samples(double sample_rate_hz) const {
    const auto count = static_cast<std::size_t>(std::ceil(cycles * sample_rate_hz / frequency_hz));
    std::vector<double> all(count);
    for (std::size_t n = 0; n < count; ++n) {
        all[n] = std::sin(2 * pi * frequency_hz * static_cast<double>(n) / sample_rate_hz);
    }
    return all;
}

TimeForm time_form(std::vector<double> taps, TimeSignal signal, const ToneBurst& burst,
                   double sample_rate_hz) {
    TimeForm form;
    form.taps = std::move(taps);
    form.onset = main_lobe_start(form.taps);
    switch (signal) {
    case TimeSignal::impulse:
        form.answer = form.taps;
        form.before = region_before(form.answer, form.onset, greatest_of(form.answer),
                                    energy_of(form.answer));
        break;
    case TimeSignal::step:
        form.answer = form.taps;
        std::partial_sum(form.answer.begin(), form.answer.end(), form.answer.begin());
        form.answer.resize(2 * form.taps.size(), form.answer.back());
        form.before = region_before(form.answer, form.onset, form.answer.back(), 0);
        break;
    case TimeSignal::burst: {
        const auto input = burst.samples(sample_rate_hz);
        form.answer = convolved(form.taps, input, form.taps.size() + input.size() - 1);
        const double delay = Filter(Taps(form.taps))
                                 .response_at(burst.frequency_hz, sample_rate_hz)
                                 .group_delay_samples;
        form.onset = std::isfinite(delay) ? std::max(delay, 0.0) : form.onset;
        form.before = region_before(form.answer, form.onset, greatest_of(form.answer),
                                    energy_of(form.answer));
        break;
    }
    }
    return form;
}

Expected<std::vector<TimeForm>> time_forms(std::span<const double> taps,
                                           std::span<const double> shares, TimeSignal signal,
                                           const ToneBurst& burst, double sample_rate_hz,
                                           const Watch& watch) {
    if (signal == TimeSignal::burst
        && !(burst.frequency_hz < sample_rate_hz / 2
             && burst.cycles * sample_rate_hz < longest_burst * burst.frequency_hz)) {
        return refuse(
            "frequency_hz",
            "of the burst is not below half the sample rate, or so low that it would last "
            "more than a million samples",
            "choose another");
    }
    std::vector<TimeForm> all;
    if (shares.empty()) {
        all.push_back(time_form({taps.begin(), taps.end()}, signal, burst, sample_rate_hz));
    }
    for (const double share : shares) {
        auto form = with_phase(taps, share, watch);
        if (!form) {
            return tl::unexpected(form.error());
        }
        all.push_back(time_form(std::move(form->taps), signal, burst, sample_rate_hz));
        all.back().share = share;
    }
    return all;
}

} // namespace syntonon
