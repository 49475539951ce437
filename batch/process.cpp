// SPDX-License-Identifier: GPL-3.0-or-later
// A sound file through a channel's chain.
#include "batch/access.h"
#include "batch/sound_out.h"
#include "core/engine/filter_engine.h"
#include "core/engine/flush_denormals.h"
#include "core/exchange/converted_sound.h"
#include "core/exchange/sound_stream.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon::batch {
namespace {

// One engine for each of the file's channels: they are filtered alike, apart from one another.
class ChannelEngines {
public:
    static Expected<ChannelEngines> of(const Filter& filter, int channels) {
        ChannelEngines made;
        for (int i = 0; i < channels; ++i) {
            auto engine = engine_of(filter);
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

constexpr std::size_t frames_at_once = 16'384;

Expected<void> run_through(SoundReader& in, SoundOut& out, ChannelEngines& engines) {
    const auto width = static_cast<std::size_t>(in.shape().channels);
    std::vector<double> samples(frames_at_once * width);
    for (;;) {
        const auto count = in.read(samples);
        if (!count) {
            return tl::unexpected(count.error());
        }
        if (*count == 0) {
            return {};
        }
        const std::span<double> piece = std::span(samples).first(*count * width);
        engines.process(piece);
        if (auto written = out.write(piece); !written) {
            return written;
        }
    }
}

// What rings on when the file is over.
Expected<void> run_tail(std::size_t frames, std::size_t width, SoundOut& out,
                        ChannelEngines& engines) {
    while (frames > 0) {
        const std::size_t count = std::min(frames, frames_at_once);
        std::vector<double> silence(count * width);
        engines.process(silence);
        if (auto written = out.write(silence); !written) {
            return written;
        }
        frames -= count;
    }
    return {};
}

Expected<std::unique_ptr<SoundReader>> open_sound(const SoundFiles& files, const Study& study) {
    auto in = SoundReader::open(files.in);
    if (!in || (*in)->shape().sample_rate_hz == study.sample_rate_hz) {
        return in;
    }
    if (!files.convert) {
        return refuse(files.in,
                      fmt::format("has {} Hz, and the study {} Hz", (*in)->shape().sample_rate_hz,
                                  study.sample_rate_hz),
                      "say --convert, or change the study's sample rate");
    }
    auto at_rate = converted(std::move(*in), study.sample_rate_hz);
    if (!at_rate) {
        return tl::unexpected(in_file(files.in, at_rate.error()));
    }
    return at_rate;
}

} // namespace

Expected<bool> process(Opened& opened, Output& out, const std::string& channel_id,
                       const SoundFiles& files) {
    const auto channel = find_channel(opened.study, channel_id);
    if (!channel) {
        return tl::unexpected(channel.error());
    }
    const auto tail_s =
        files.tail_s.empty() ? Expected<double>(0) : seconds_from("--tail", files.tail_s);
    if (!tail_s) {
        return tl::unexpected(tail_s.error());
    }
    const auto chain = filter_of(opened, **channel, "");
    if (!chain) {
        return tl::unexpected(chain.error());
    }
    if (!chain->is_analog() && !chain->is_stable()) {
        return refuse("channel " + channel_id,
                      "the chain is unstable: its output grows without end",
                      "see the roots command, and mend the chain");
    }
    auto in = open_sound(files, opened.study);
    if (!in) {
        return tl::unexpected(in.error());
    }
    const SoundShape& shape = (*in)->shape();
    auto engines = ChannelEngines::of(*chain, shape.channels);
    if (!engines) {
        return tl::unexpected(within("channel " + channel_id, engines.error()));
    }
    auto writer = SoundOut::create(files.out, shape);
    if (!writer) {
        return tl::unexpected(writer.error());
    }
    const FlushDenormals flush;
    const auto tail = static_cast<std::size_t>(std::llround(*tail_s * shape.sample_rate_hz));
    auto finished =
        run_through(**in, *writer, *engines)
            .and_then([&] {
                return run_tail(tail, static_cast<std::size_t>(shape.channels), *writer, *engines);
            })
            .and_then([&] { return writer->finish(out); });
    return done(finished);
}

} // namespace syntonon::batch
