// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/converted_sound.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <samplerate.h>
#include <vector>

namespace syntonon {
namespace {

using Converter = std::unique_ptr<SRC_STATE, SRC_STATE* (*)(SRC_STATE*)>;

class ConvertedReader final : public SoundReader {
public:
    ConvertedReader(std::unique_ptr<SoundReader> sound, Converter converter, double sample_rate_hz)
        : sound_(std::move(sound)), converter_(std::move(converter)), shape_(sound_->shape()) {
        ratio_ = sample_rate_hz / shape_.sample_rate_hz;
        shape_.sample_rate_hz = sample_rate_hz;
        shape_.frames = std::llround(static_cast<double>(shape_.frames) * ratio_);
        in_.resize(frames_at_once * static_cast<std::size_t>(shape_.channels));
        exact_.resize(in_.size());
    }

    const SoundShape& shape() const override { return shape_; }
    Expected<void> skip(std::int64_t frames) override {
        return sound_->skip(std::llround(static_cast<double>(frames) / ratio_));
    }
    Expected<std::size_t> read(std::span<double> samples) override {
        const auto width = static_cast<std::size_t>(shape_.channels);
        const std::size_t wanted = samples.size() / width;
        out_.resize(wanted * width);
        std::size_t made = 0;
        while (made < wanted) {
            if (waiting_ == 0 && !ended_) {
                if (auto ok = fetch(); !ok) {
                    return tl::unexpected(ok.error());
                }
            }
            const std::size_t step = convert(std::span(out_).subspan(made * width), wanted - made);
            made += step;
            if (step == 0 && ended_ && waiting_ == 0) {
                break;
            }
        }
        std::copy_n(out_.begin(), made * width, samples.begin());
        return made;
    }

private:
    static constexpr std::size_t frames_at_once = 4096;

    Expected<void> fetch() {
        const auto count = sound_->read(exact_);
        if (!count) {
            return tl::unexpected(count.error());
        }
        waiting_ = *count;
        used_ = 0;
        ended_ = *count == 0;
        const std::size_t samples = *count * static_cast<std::size_t>(shape_.channels);
        std::ranges::transform(std::span(exact_).first(samples), in_.begin(),
                               [](double sample) { return static_cast<float>(sample); });
        return {};
    }
    std::size_t convert(std::span<float> out, std::size_t frames) {
        const auto width = static_cast<std::size_t>(shape_.channels);
        SRC_DATA data{};
        data.data_in = in_.data() + used_ * width;
        data.input_frames = static_cast<long>(waiting_);
        data.data_out = out.data();
        data.output_frames = static_cast<long>(frames);
        data.end_of_input = ended_ ? 1 : 0;
        data.src_ratio = ratio_;
        src_process(converter_.get(), &data);
        used_ += static_cast<std::size_t>(data.input_frames_used);
        waiting_ -= static_cast<std::size_t>(data.input_frames_used);
        return static_cast<std::size_t>(data.output_frames_gen);
    }

    std::unique_ptr<SoundReader> sound_;
    Converter converter_;
    SoundShape shape_;
    double ratio_ = 1;
    std::vector<double> exact_;
    std::vector<float> in_, out_;
    std::size_t waiting_ = 0, used_ = 0; // frames of `in_`
    bool ended_ = false;
};

} // namespace

Expected<std::unique_ptr<SoundReader>> converted(std::unique_ptr<SoundReader> sound,
                                                 double sample_rate_hz) {
    const SoundShape shape = sound->shape();
    if (shape.sample_rate_hz == sample_rate_hz) {
        return sound;
    }
    int error = 0;
    Converter converter(src_new(SRC_SINC_BEST_QUALITY, shape.channels, &error), src_delete);
    if (!converter || src_is_valid_ratio(sample_rate_hz / shape.sample_rate_hz) == 0) {
        return refuse("sample_rate_hz",
                      fmt::format("{} Hz and {} Hz are too far apart, or {} channels too many",
                                  shape.sample_rate_hz, sample_rate_hz, shape.channels),
                      "convert the file elsewhere");
    }
    return std::make_unique<ConvertedReader>(std::move(sound), std::move(converter),
                                             sample_rate_hz);
}

} // namespace syntonon
