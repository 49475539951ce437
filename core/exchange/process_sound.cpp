// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/process_sound.h"

#include "core/engine/filter_engine.h"
#include "core/engine/flush_denormals.h"

#include <algorithm>
#include <cmath>
#include <memory>
#include <vector>

namespace syntonon {
namespace {

constexpr std::size_t frames_at_once = 16'384;

// One engine for each of the file's channels: they are filtered alike, apart from one another.
class ChannelEngines {
public:
    static Expected<ChannelEngines> of(const MakeEngine& make_engine, int channels) {
        ChannelEngines made;
        for (int i = 0; i < channels; ++i) {
            auto engine = make_engine();
            if (!engine) {
                return tl::unexpected(engine.error());
            }
            made.engines_.push_back(std::move(*engine));
        }
        return made;
    }
    // Channels side by side.
    void process(std::span<double> samples) {
        const std::size_t width = engines_.size();
        one_.resize(samples.size() / width);
        for (std::size_t c = 0; c < width; ++c) {
            for (std::size_t n = 0; n < one_.size(); ++n) {
                one_[n] = samples[n * width + c];
            }
            engines_[c]->process(one_);
            for (std::size_t n = 0; n < one_.size(); ++n) {
                samples[n * width + c] = one_[n];
            }
        }
    }

private:
    std::vector<std::unique_ptr<Engine>> engines_;
    std::vector<double> one_;
};

Expected<void> check_watch(const Watch& watch) {
    return watch.is_stopped() ? refuse("", "was stopped") : Expected<void>();
}

} // namespace

Expected<void> process_sound(SoundReader& in, const Filter& filter, double tail_s,
                             const std::function<Expected<void>(std::span<const double>)>& write,
                             const Watch& watch) {
    return process_sound(
        in, [&] { return engine_of(filter); }, tail_s, write, watch);
}

Expected<void> process_sound(SoundReader& in, const MakeEngine& make_engine, double tail_s,
                             const std::function<Expected<void>(std::span<const double>)>& write,
                             const Watch& watch) {
    const SoundShape shape = in.shape();
    auto engines = ChannelEngines::of(make_engine, shape.channels);
    if (!engines) {
        return tl::unexpected(engines.error());
    }
    const FlushDenormals flush;
    const auto width = static_cast<std::size_t>(shape.channels);
    auto tail = static_cast<std::size_t>(std::llround(tail_s * shape.sample_rate_hz));
    std::vector<double> samples(frames_at_once * width);
    std::int64_t done = 0;
    for (bool in_tail = false; !in_tail || tail > 0;) {
        if (auto goes_on = check_watch(watch); !goes_on) {
            return goes_on;
        }
        std::size_t count = std::min(tail, frames_at_once);
        if (!in_tail) {
            const auto read = in.read(samples);
            if (!read) {
                return tl::unexpected(read.error());
            }
            count = *read;
            in_tail = count == 0;
        } else {
            std::ranges::fill(samples, 0.0);
            tail -= count;
        }
        const std::span<double> piece = std::span(samples).first(count * width);
        engines->process(piece);
        if (auto written = write(piece); !written) {
            return written;
        }
        done += static_cast<std::int64_t>(count);
        watch.report(static_cast<double>(done)
                     / static_cast<double>(std::max<std::int64_t>(shape.frames, 1)));
    }
    return {};
}

} // namespace syntonon
