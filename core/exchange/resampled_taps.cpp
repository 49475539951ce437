// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/resampled_taps.h"

#include "core/design/taps.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <samplerate.h>

namespace syntonon {
namespace {

constexpr double greatest_ratio = 256;
constexpr double silent = 1e-6; // against the greatest tap
constexpr double reach = 256;   // of the interpolation, in samples of the lower rate

double greatest_of(std::span<const double> taps) {
    double greatest = 0;
    for (const double tap : taps) {
        greatest = std::max(greatest, std::abs(tap));
    }
    return greatest > 0 ? greatest : 1;
}

// In samples of the old rate; where there is such a number, a whole one at the new rate, too.
double silence_in_front(double ratio) {
    constexpr int tried = 1024;
    const double least = std::ceil(reach * std::max(1.0, 1 / ratio));
    double best = least, best_rest = 1;
    for (int i = 0; i < tried; ++i) {
        const double rest = std::abs((least + i) * ratio - std::round((least + i) * ratio));
        if (rest < best_rest - 1e-9) {
            best = least + i;
            best_rest = rest;
        }
    }
    return best;
}

// Without the silent ends, but nothing that stood at or after the old first tap is cut in front.
ResampledTaps trimmed_taps(const std::vector<float>& all, std::size_t first_of_old, double scale) {
    float greatest = 0;
    for (const float tap : all) {
        greatest = std::max(greatest, std::abs(tap));
    }
    const auto sounds = [&](float tap) { return std::abs(tap) > silent * greatest; };
    const auto first = std::min<std::ptrdiff_t>(std::ranges::find_if(all, sounds) - all.begin(),
                                                static_cast<std::ptrdiff_t>(first_of_old));
    auto last = all.end();
    while (last - all.begin() > first + 1 && !sounds(*(last - 1))) {
        --last;
    }
    ResampledTaps made;
    for (auto tap = all.begin() + first; tap != last; ++tap) {
        made.taps.push_back(scale * double(*tap));
    }
    made.later_samples = static_cast<double>(first_of_old) - static_cast<double>(first);
    return made;
}

} // namespace

Expected<ResampledTaps> resampled_taps(std::span<const double> taps, double from_hz, double to_hz) {
    const double ratio = to_hz / from_hz;
    if (!(ratio >= 1 / greatest_ratio && ratio <= greatest_ratio)) {
        return refuse("sample_rate_hz",
                      fmt::format("{} Hz and {} Hz are too far apart", from_hz, to_hz),
                      "take the samples as they are");
    }
    const double silence = silence_in_front(ratio);
    const double length = (static_cast<double>(taps.size()) + 2 * silence) * ratio;
    if (!(length <= static_cast<double>(most_taps))) {
        return refuse("taps", fmt::format("would become {:.0f}", length),
                      fmt::format("cut them: {} are the most", most_taps));
    }
    const double greatest = greatest_of(taps);
    std::vector<float> padded(taps.size() + 2 * static_cast<std::size_t>(silence), 0.0F);
    std::ranges::transform(taps, padded.begin() + static_cast<std::ptrdiff_t>(silence),
                           [=](double tap) { return static_cast<float>(tap / greatest); });
    std::vector<float> all(static_cast<std::size_t>(length) + 1);
    SRC_DATA data{};
    data.data_in = padded.data();
    data.data_out = all.data();
    data.input_frames = static_cast<long>(padded.size());
    data.output_frames = static_cast<long>(all.size());
    data.src_ratio = ratio;
    if (const int error = src_simple(&data, SRC_SINC_BEST_QUALITY, 1); error != 0) {
        return refuse("taps", fmt::format("cannot be resampled: {}", src_strerror(error)),
                      "take the samples as they are");
    }
    all.resize(static_cast<std::size_t>(data.output_frames_gen));
    const double first_of_old = std::floor(silence * ratio + 1e-9);
    ResampledTaps made =
        trimmed_taps(all, static_cast<std::size_t>(first_of_old), greatest / ratio);
    made.later_samples += std::max(0.0, silence * ratio - first_of_old);
    return made;
}

} // namespace syntonon
