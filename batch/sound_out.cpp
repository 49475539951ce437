// SPDX-License-Identifier: GPL-3.0-or-later
#include "batch/sound_out.h"

#include "batch/access.h"
#include "core/base/number_text.h"
#include "core/base/units.h"

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

} // namespace

Expected<SoundOut> SoundOut::create(const SoundCoding& coding, const SoundShape& shape) {
    const auto words = words_from(coding.words, coding.out);
    if (!words) {
        return tl::unexpected(words.error());
    }
    auto writer = SoundWriter::create(coding.out, shape, *words,
                                      coding.dither ? Dithering::triangular : Dithering::none);
    if (!writer) {
        return tl::unexpected(writer.error());
    }
    SoundOut made;
    made.path_ = coding.out;
    made.channels_ = shape.channels;
    made.writer_ = std::move(*writer);
    return made;
}

Expected<void> SoundOut::write(std::span<const double> samples) {
    for (const double sample : samples) {
        peak_ = std::max(peak_, std::abs(sample));
    }
    frames_ += static_cast<std::int64_t>(samples.size()) / channels_;
    return writer_->write(samples);
}

Expected<void> SoundOut::finish(Output& out) {
    if (auto finished = writer_->finish(); !finished) {
        return finished;
    }
    if (writer_->clipped() > 0) {
        fmt::print(stderr, "{}: {} samples lie beyond full scale and were cut to it\n",
                   one_line(path_), writer_->clipped());
    }
    return out.write(fmt::format("file,frames,channels,peak_dbfs,clipped_samples\n{},{},{},{},{}\n",
                                 path_, frames_, channels_,
                                 peak_ > 0 ? exact(db_from_ratio(peak_)) : "", writer_->clipped()));
}

Expected<double> seconds_from(const std::string& option, const std::string& text) {
    constexpr double most_s = 86'400;
    const auto value = number_from_text(text);
    if (!value || !(*value >= 0 && *value <= most_s)) {
        return refuse(option, fmt::format("“{}” is no number of seconds", text),
                      fmt::format("give one from 0 to {:.0f}", most_s));
    }
    return *value;
}

} // namespace syntonon::batch
