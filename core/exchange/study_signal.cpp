// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/study_signal.h"

#include "core/exchange/converted_sound.h"
#include "core/exchange/file_digest.h"
#include "core/exchange/sound_stream.h"
#include "core/signal/make_signal.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

class Maker {
public:
    Maker(const Study& study, const std::filesystem::path& folder, const Watch& watch)
        : study_(study), folder_(folder), watch_(watch) {}

    // Of its own length.
    Expected<std::vector<double>> make(std::string_view id) { return make(id, nullptr); }
    std::vector<std::string>& remarks() { return remarks_; }

private:
    // Of the extent's length where there is one.
    Expected<std::vector<double>> make(std::string_view id, const SignalExtent* asked) {
        const auto found = std::ranges::find(
            study_.test_signals, id, [](const auto& s) -> auto& { return s->id; });
        if (found == study_.test_signals.end()) {
            return refuse("", fmt::format("there is no signal “{}”", id),
                          "name one of the study's signals");
        }
        const std::string place = fmt::format("signals[{}]", found - study_.test_signals.begin());
        if (std::ranges::find(under_way_, id) != under_way_.end()) {
            return refuse(place,
                          fmt::format("mixes itself in: {} is part of {}", under_way_.back(), id),
                          "mix another signal in");
        }
        const auto own = samples_of((*found)->length, study_.sample_rate_hz);
        if (!own) {
            return tl::unexpected(within(place, own.error()));
        }
        const SignalExtent extent{study_.sample_rate_hz,
                                  asked != nullptr ? std::min(asked->samples, *own) : *own};
        under_way_.emplace_back(id);
        auto made = make_signal((*found)->recipe, extent, sources());
        under_way_.pop_back();
        if (!made) {
            // What is wrong with an ingredient or a file stands under its own name already.
            const std::string& where = made.error().place;
            const bool is_placed = where.find("signals[") != std::string::npos
                                   || (!file_.empty() && where.starts_with(file_));
            return tl::unexpected(is_placed ? made.error() : within(place, made.error()));
        }
        if (asked != nullptr) {
            made->resize(asked->samples);
        }
        return made;
    }

    SignalSources sources() {
        return {
            [this](const FileRecipe& recipe, const SignalExtent& extent) {
                return from_file(recipe, extent);
            },
            [this](std::string_view id, const SignalExtent& extent) { return make(id, &extent); }};
    }

    Expected<std::unique_ptr<SoundReader>> opened(const FileRecipe& recipe,
                                                  const std::filesystem::path& path) {
        auto reader = SoundReader::open(path);
        if (!reader) {
            return reader;
        }
        const SoundShape shape = (*reader)->shape();
        if (const auto words = cut_short(**reader)) {
            remarks_.push_back(fmt::format("{} is cut short: {}.", recipe.path, *words));
        }
        if (recipe.channel > shape.channels) {
            return refuse("channel",
                          fmt::format("{} is not there: {} has {}", recipe.channel, path.string(),
                                      shape.channels),
                          "choose one of them");
        }
        if (shape.sample_rate_hz != study_.sample_rate_hz) {
            if (!recipe.convert) {
                return refuse("convert",
                              fmt::format("{} has {} Hz, and the study {} Hz", path.string(),
                                          shape.sample_rate_hz, study_.sample_rate_hz),
                              "set convert, or change the study's sample rate");
            }
            remarks_.push_back(
                fmt::format("{} is converted from {} Hz.", recipe.path, shape.sample_rate_hz));
            return converted(std::move(*reader), study_.sample_rate_hz);
        }
        return reader;
    }

    Expected<std::vector<double>> from_file(const FileRecipe& recipe, const SignalExtent& extent) {
        const std::filesystem::path path = folder_ / recipe.path;
        file_ = path.string();
        auto reader = opened(recipe, path);
        if (!reader) {
            return tl::unexpected(reader.error());
        }
        if (!recipe.digest.empty()) {
            const auto digest = digest_of_file(path);
            if (digest && *digest != recipe.digest) {
                remarks_.push_back(recipe.path + " has changed since it was chosen.");
            }
        }
        const auto from = std::llround(recipe.from_s * extent.sample_rate_hz);
        const SoundShape shape = (*reader)->shape();
        if (from >= shape.frames) {
            return refuse(shape.frames == 0 ? "path" : "from_s",
                          shape.frames == 0 ? fmt::format("{} holds no samples", path.string())
                                            : fmt::format("{} ends before", path.string()),
                          shape.frames == 0 ? "choose another file" : "begin earlier");
        }
        if (auto skipped = (*reader)->skip(from); !skipped) {
            return tl::unexpected(skipped.error());
        }
        const std::int64_t left = shape.frames - from;
        if (left > static_cast<std::int64_t>(extent.samples)) {
            remarks_.push_back(
                fmt::format("{} goes on for another {:.0f} s.", recipe.path,
                            static_cast<double>(left) / extent.sample_rate_hz
                                - static_cast<double>(extent.samples) / extent.sample_rate_hz));
        }
        return channel_of(**reader, static_cast<std::size_t>(recipe.channel) - 1, extent.samples);
    }

    Expected<std::vector<double>> channel_of(SoundReader& reader, std::size_t channel,
                                             std::size_t most) {
        constexpr std::size_t frames_at_once = 16'384;
        const auto width = static_cast<std::size_t>(reader.shape().channels);
        std::vector<double> piece(frames_at_once * width), out;
        while (out.size() < most) {
            if (watch_.is_stopped()) {
                return refuse("", "was stopped");
            }
            const auto count = reader.read(piece);
            if (!count) {
                return tl::unexpected(count.error());
            }
            if (*count == 0) {
                break;
            }
            for (std::size_t n = 0; n < *count && out.size() < most; ++n) {
                out.push_back(piece[n * width + channel]);
            }
        }
        return out;
    }

    const Study& study_;
    const std::filesystem::path& folder_;
    const Watch& watch_;
    std::vector<std::string> under_way_, remarks_;
    std::string file_; // that was read last
};

} // namespace

Expected<StudySignal> samples_of_signal(const Study& study, std::string_view id,
                                        const std::filesystem::path& folder, const Watch& watch) {
    Maker maker(study, folder, watch);
    auto samples = maker.make(id);
    if (!samples) {
        return tl::unexpected(samples.error());
    }
    return StudySignal{std::move(*samples), std::move(maker.remarks())};
}

} // namespace syntonon
