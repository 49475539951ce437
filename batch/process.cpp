// SPDX-License-Identifier: GPL-3.0-or-later
// A sound file through a channel's chain.
#include "batch/access.h"
#include "batch/sound_out.h"
#include "core/engine/filter_engine.h"
#include "core/engine/word_engine.h"
#include "core/exchange/converted_sound.h"
#include "core/exchange/process_sound.h"
#include "core/exchange/sound_stream.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon::batch {
namespace {

Expected<std::unique_ptr<SoundReader>> open_sound(const SoundFiles& files, const Study& study) {
    auto in = SoundReader::open(files.in);
    if (const auto words = in ? cut_short(**in) : std::nullopt) {
        fmt::print(stderr, "{}: is cut short: {}\n", one_line(files.in), *words);
    }
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
    auto writer = SoundOut::create(files.out, shape);
    if (!writer) {
        return tl::unexpected(writer.error());
    }
    const auto words = words_of(opened, **channel);
    if (!words) {
        return tl::unexpected(words.error());
    }
    const MakeEngine make_engine = [&]() -> Expected<std::unique_ptr<Engine>> {
        if (*words) {
            return std::make_unique<WordEngine>(**words);
        }
        return engine_of(*chain);
    };
    auto finished = process_sound(**in, make_engine, *tail_s, [&](std::span<const double> samples) {
                        return writer->write(samples);
                    }).and_then([&] { return writer->finish(out); });
    if (!finished && finished.error().place.empty()) {
        return tl::unexpected(within("channel " + channel_id, finished.error()));
    }
    return done(finished);
}

} // namespace syntonon::batch
