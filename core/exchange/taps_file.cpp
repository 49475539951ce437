// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/taps_file.h"

#include "core/base/file.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

Expected<std::string> bytes_of_taps(std::span<const double> taps, const TapsFileWriting& writing) {
    const auto text = [&](TapsLayout layout) {
        return taps_text(taps, {layout, writing.head, writing.words});
    };
    switch (writing.format) {
    case TapsFormat::lines:
        return text(TapsLayout::lines);
    case TapsFormat::indexed:
        return text(TapsLayout::indexed);
    case TapsFormat::c_array:
        return text(TapsLayout::c_array);
    case TapsFormat::words:
        return text(TapsLayout::words);
    case TapsFormat::wav:
        return sound_of_taps(taps, writing.sample_rate_hz, SoundFormat::wav);
    case TapsFormat::flac:
        break;
    }
    return sound_of_taps(taps, writing.sample_rate_hz, SoundFormat::flac);
}

} // namespace

std::string_view extension_of(TapsFormat format) {
    switch (format) {
    case TapsFormat::c_array:
        return ".h";
    case TapsFormat::wav:
        return ".wav";
    case TapsFormat::flac:
        return ".flac";
    case TapsFormat::lines:
    case TapsFormat::indexed:
    case TapsFormat::words:
        break;
    }
    return ".txt";
}

Expected<WrittenTaps> write_taps(const std::filesystem::path& path, std::span<const double> taps,
                                 const TapsFileWriting& writing) {
    if (is_sound_file(path)
        != (writing.format == TapsFormat::wav || writing.format == TapsFormat::flac)) {
        return refuse(path.string(), "has the ending of another format",
                      fmt::format("let it end in {}", extension_of(writing.format)));
    }
    const auto bytes = bytes_of_taps(taps, writing);
    if (!bytes) {
        return tl::unexpected(bytes.error());
    }
    if (auto ok = write_file_atomically(path, *bytes, Links::replace); !ok) {
        return tl::unexpected(ok.error());
    }
    const auto read = read_taps(path, {});
    if (!read) {
        return tl::unexpected(read.error());
    }
    if (read->taps.size() != taps.size()) {
        return refuse(path.string(),
                      fmt::format("was read back with {} taps in place of {}", read->taps.size(),
                                  taps.size()),
                      "take another format");
    }
    WrittenTaps written{0, bytes->size()};
    for (std::size_t i = 0; i < taps.size(); ++i) {
        written.greatest_deviation =
            std::max(written.greatest_deviation, std::abs(read->taps[i] - taps[i]));
    }
    return written;
}

Expected<ReadTaps> read_taps(const std::filesystem::path& path, const TapsFileReading& reading) {
    if (is_sound_file(path)) {
        return taps_from_sound(path, reading.channel).map([](SoundTaps sound) {
            return ReadTaps{std::move(sound.taps), sound.sample_rate_hz, sound.channels};
        });
    }
    return taps_from_file(path, reading.words).map([](std::vector<double> taps) {
        return ReadTaps{std::move(taps)};
    });
}

} // namespace syntonon
