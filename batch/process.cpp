// SPDX-License-Identifier: GPL-3.0-or-later
// A sound file through a channel's chain.
#include "batch/access.h"
#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/engine/filter_engine.h"
#include "core/engine/flush_denormals.h"
#include "core/exchange/sound_stream.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>

namespace syntonon::batch {
namespace {

Expected<SoundWords> words_from(const std::string& text, const std::filesystem::path& out) {
    if (text.empty()) {
        return lower_case(out.extension().string()) == ".flac" ? SoundWords::int_24
                                                               : SoundWords::float_32;
    }
    constexpr std::array all = std::to_array<std::pair<std::string_view, SoundWords>>(
        {{"16", SoundWords::int_16}, {"24", SoundWords::int_24}, {"float", SoundWords::float_32}});
    const auto found = std::ranges::find(all, text, [](const auto& one) { return one.first; });
    if (found == all.end()) {
        return refuse("--words", fmt::format("there are no words “{}”", text),
                      "use 16, 24 or float");
    }
    return found->second;
}

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

struct Run {
    std::int64_t frames = 0;
    double peak = 0;
};

Expected<Run> run_through(SoundReader& in, SoundWriter& out, ChannelEngines& engines) {
    const FlushDenormals flush;
    constexpr std::size_t frames_at_once = 16'384;
    const auto width = static_cast<std::size_t>(in.shape().channels);
    std::vector<double> samples(frames_at_once * width);
    Run run;
    for (;;) {
        const auto count = in.read(samples);
        if (!count) {
            return tl::unexpected(count.error());
        }
        if (*count == 0) {
            return run;
        }
        const std::span<double> piece = std::span(samples).first(*count * width);
        engines.process(piece);
        for (const double sample : piece) {
            run.peak = std::max(run.peak, std::abs(sample));
        }
        if (auto written = out.write(piece); !written) {
            return tl::unexpected(written.error());
        }
        run.frames += static_cast<std::int64_t>(*count);
    }
}

Expected<void> check_rates(const SoundReader& in, const Study& study, const std::string& path) {
    if (in.shape().sample_rate_hz != study.sample_rate_hz) {
        return refuse(path,
                      fmt::format("has {} Hz, and the study {} Hz", in.shape().sample_rate_hz,
                                  study.sample_rate_hz),
                      "convert the file, or change the study's sample rate");
    }
    return {};
}

} // namespace

Expected<bool> process(Opened& opened, Output& out, const std::string& channel_id,
                       const SoundFiles& files) {
    const auto channel = find_channel(opened.study, channel_id);
    if (!channel) {
        return tl::unexpected(channel.error());
    }
    const auto words = words_from(files.words, files.out);
    if (!words) {
        return tl::unexpected(words.error());
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
    auto in = SoundReader::open(files.in);
    if (!in) {
        return tl::unexpected(in.error());
    }
    if (auto same = check_rates(**in, opened.study, files.in); !same) {
        return tl::unexpected(same.error());
    }
    auto engines = ChannelEngines::of(*chain, (*in)->shape().channels);
    if (!engines) {
        return tl::unexpected(within("channel " + channel_id, engines.error()));
    }
    auto writer = SoundWriter::create(files.out, (*in)->shape(), *words);
    if (!writer) {
        return tl::unexpected(writer.error());
    }
    const auto run = run_through(**in, **writer, *engines);
    if (!run) {
        return tl::unexpected(run.error());
    }
    if (auto finished = (*writer)->finish(); !finished) {
        return tl::unexpected(finished.error());
    }
    if ((*writer)->clipped() > 0) {
        fmt::print(stderr, "{}: {} samples lie beyond full scale and were cut to it\n",
                   one_line(files.out), (*writer)->clipped());
    }
    return done(out.write(
        fmt::format("file,frames,channels,peak_dbfs,clipped_samples\n{},{},{},{},{}\n", files.out,
                    run->frames, (*in)->shape().channels,
                    run->peak > 0 ? exact(db_from_ratio(run->peak)) : "", (*writer)->clipped())));
}

} // namespace syntonon::batch
