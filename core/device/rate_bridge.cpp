// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/device/rate_bridge.h"

#include <algorithm>
#include <fmt/format.h>
#include <samplerate.h>
#include <utility>

namespace syntonon {

RateBridge::RateBridge(Converter converter, double ratio, Fill fill)
    : converter_(std::move(converter)), ratio_(ratio), fill_(std::move(fill)), rendered_(at_once),
      in_(at_once), out_(at_once) {}

Expected<std::unique_ptr<RateBridge>> RateBridge::between(double from_hz, double to_hz, Fill fill) {
    int error = 0;
    Converter converter(src_new(SRC_SINC_MEDIUM_QUALITY, 1, &error), src_delete);
    const double ratio = to_hz / from_hz;
    if (!converter || src_is_valid_ratio(ratio) == 0) {
        return refuse("sound", fmt::format("{} Hz cannot be played at {} Hz", from_hz, to_hz),
                      "choose another rate");
    }
    return std::unique_ptr<RateBridge>(
        new RateBridge(std::move(converter), ratio, std::move(fill)));
}

void RateBridge::fill(std::span<double> out) {
    while (!out.empty()) {
        if (used_ == at_once) {
            fill_(rendered_);
            std::ranges::transform(rendered_, in_.begin(),
                                   [](double sample) { return static_cast<float>(sample); });
            used_ = 0;
        }
        SRC_DATA data{};
        data.data_in = in_.data() + used_;
        data.input_frames = static_cast<long>(at_once - used_);
        data.data_out = out_.data();
        data.output_frames = static_cast<long>(std::min(out.size(), at_once));
        data.src_ratio = ratio_;
        const bool fails = src_process(converter_.get(), &data) != 0;
        if (fails || (data.input_frames_used == 0 && data.output_frames_gen == 0)) {
            std::ranges::fill(out, 0.0);
            return;
        }
        used_ += static_cast<std::size_t>(data.input_frames_used);
        const auto made = static_cast<std::size_t>(data.output_frames_gen);
        std::copy_n(out_.begin(), made, out.begin());
        out = out.subspan(made);
    }
}

} // namespace syntonon
