// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/by_transform.h"

#include "core/engine/render.h"
#include "core/filter/filter.h"
#include "core/filter/grid.h"
#include "core/math/fft.h"

#include <algorithm>
#include <complex>

namespace syntonon {

Expected<std::vector<double>> run_by_transform(const Filter& filter, const Axis& axis,
                                               std::span<const double> signal) {
    constexpr std::size_t longest = std::size_t(1) << 21;
    if (axis.is_analog() || !filter.is_stable()) {
        return refuse("", "an unstable filter's response is no transform of its answer",
                      "make it stable");
    }
    const std::size_t memory = memory_samples(filter, 300, longest);
    if (signal.size() + memory >= longest || signal.empty()) {
        return refuse("", "it rings longer than can be transformed", "lower its highest Q");
    }
    RealFft fft(quick_fft_length(std::max<std::size_t>(signal.size() + memory, 16)));
    const std::size_t bins = fft.spectrum().size();
    const auto grid = FrequencyGrid::evenly({false, 0, axis.sample_rate_hz / 2, bins}, axis);
    if (!grid) {
        return tl::unexpected(grid.error());
    }
    const auto response = filter.values(*grid);
    const auto end = std::ranges::copy(signal, fft.signal().begin()).out;
    std::fill(end, fft.signal().end(), 0.0);
    fft.to_spectrum();
    for (std::size_t k = 0; k < bins; ++k) {
        fft.spectrum()[k] *= response[k].h;
    }
    fft.to_signal();
    std::vector<double> out(fft.signal().begin(),
                            fft.signal().begin() + static_cast<std::ptrdiff_t>(signal.size()));
    for (double& sample : out) {
        sample /= static_cast<double>(fft.length());
    }
    return out;
}

} // namespace syntonon
