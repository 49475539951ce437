// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/sound_stream.h"

#include "core/base/number_text.h"
#include "core/exchange/dither.h"
#include "core/exchange/sound_library.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <fmt/format.h>
#include <optional>
#include <sstream>
#include <string>
#include <system_error>
#include <utility>
#include <vector>

namespace syntonon {
namespace {

// Of a file that is too short the library reads what is there, and only notes in its log
// "data : 96000 (should be 30000)": bytes. A head written before the length was known holds one
// that no file reaches.
std::int64_t frames_in_head(SNDFILE* file, std::int64_t frames) {
    constexpr std::int64_t not_known = 0x7FFFF000;
    std::array<char, 16'384> log{};
    sf_command(file, SFC_GET_LOG_INFO, log.data(), static_cast<int>(log.size()) - 1);
    std::istringstream lines(log.data());
    for (std::string line; std::getline(lines, line);) {
        long long promised = 0, there = 0;
        constexpr long long in_front = 8; // of the samples, in the part of an AIFF file
        if (std::sscanf(line.c_str(), " SSND : %lld (should be %lld)", &promised, &there) == 2) {
            promised -= in_front;
            there -= in_front;
        } else if (std::sscanf(line.c_str(), "data : %lld (should be %lld)", &promised, &there)
                   != 2) {
            continue;
        }
        if (there > 0 && promised > there && promised < not_known) {
            return frames * promised / there;
        }
    }
    return frames;
}

class StreamReader final : public SoundReader {
public:
    StreamReader(std::filesystem::path path, SoundFile file, const SF_INFO& info)
        : path_(std::move(path)),
          file_(std::move(file)), shape_{static_cast<double>(info.samplerate), info.channels,
                                         info.frames},
          promised_(frames_in_head(file_.get(), info.frames)) {}

    const SoundShape& shape() const override { return shape_; }
    std::int64_t promised_frames() const override { return promised_; }
    Expected<void> skip(std::int64_t frames) override {
        const std::int64_t to = std::min(read_ + frames, shape_.frames);
        if (to != read_ && sf_seek(file_.get(), to, SEEK_SET) != to) {
            return refuse(path_.string(), fmt::format("cannot be read from sample {} on", to),
                          "fetch it again");
        }
        read_ = to;
        return {};
    }
    Expected<std::size_t> read(std::span<double> samples) override {
        const auto width = static_cast<std::size_t>(shape_.channels);
        const auto wanted = static_cast<sf_count_t>(samples.size() / width);
        const sf_count_t found = sf_readf_double(file_.get(), samples.data(), wanted);
        const auto count = static_cast<std::size_t>(std::max<sf_count_t>(found, 0));
        const auto odd = std::ranges::find_if(samples.first(count * width),
                                              [](double sample) { return !std::isfinite(sample); });
        if (odd != samples.begin() + static_cast<std::ptrdiff_t>(count * width)) {
            const auto at = static_cast<std::size_t>(odd - samples.begin());
            return refuse(fmt::format("{}: channel {}, sample {}", path_.string(), at % width + 1,
                                      read_ + static_cast<std::int64_t>(at / width)),
                          "is not a finite number", "mend the file");
        }
        read_ += static_cast<std::int64_t>(count);
        if (found < wanted && read_ < shape_.frames) {
            return refuse(path_.string(),
                          fmt::format("ends after {} of the {} samples that its head speaks of",
                                      read_, shape_.frames),
                          "fetch it again");
        }
        return count;
    }

private:
    std::filesystem::path path_;
    SoundFile file_;
    SoundShape shape_;
    std::int64_t promised_, read_ = 0;
};

struct SoundKind {
    const char* ending;
    int format;
};
constexpr std::array sound_kinds = {
    SoundKind{".wav", SF_FORMAT_WAV}, SoundKind{".flac", SF_FORMAT_FLAC},
    SoundKind{".aiff", SF_FORMAT_AIFF}, SoundKind{".aif", SF_FORMAT_AIFF},
    SoundKind{".w64", SF_FORMAT_W64}};

double step_of(SoundWords words) {
    return words == SoundWords::int_16 ? 0x1p-15 : words == SoundWords::int_24 ? 0x1p-23 : 0;
}

int subformat_of(SoundWords words) {
    switch (words) {
    case SoundWords::int_16:
        return SF_FORMAT_PCM_16;
    case SoundWords::int_24:
        return SF_FORMAT_PCM_24;
    case SoundWords::float_32:
        break;
    }
    return SF_FORMAT_FLOAT;
}

class StreamWriter final : public SoundWriter {
public:
    StreamWriter(std::filesystem::path path, std::filesystem::path part, SoundFile file,
                 int channels, SoundWords words, Dithering dithering)
        : path_(std::move(path)), part_(std::move(part)), file_(std::move(file)),
          channels_(channels), holds_integers_(words != SoundWords::float_32),
          step_(step_of(words)) {
        if (holds_integers_ && dithering == Dithering::triangular) {
            dither_.emplace(step_);
        }
    }
    ~StreamWriter() override {
        if (file_) {
            file_.reset();
            std::error_code ignored;
            std::filesystem::remove(part_, ignored);
        }
    }

    Expected<void> write(std::span<const double> samples) override {
        if (holds_integers_) {
            clipped_ +=
                std::ranges::count_if(samples, [](double sample) { return std::abs(sample) > 1; });
        }
        const auto frames =
            static_cast<sf_count_t>(samples.size()) / static_cast<sf_count_t>(channels_);
        if ((holds_integers_ ? write_rounded(samples, frames)
                             : sf_writef_double(file_.get(), samples.data(), frames))
            != frames) {
            return refuse(path_.string(), "cannot be written: " + reason_of(file_.get()),
                          "is the disk full?");
        }
        return {};
    }
    Expected<void> finish() override {
        sf_write_sync(file_.get());
        const bool closed = sf_close(file_.release()) == 0;
        std::error_code failed;
        if (closed) {
            std::filesystem::rename(part_, path_, failed);
        }
        if (!closed || failed) {
            std::error_code ignored;
            std::filesystem::remove(part_, ignored);
            return refuse(path_.string(), "cannot be written", "is the disk full?");
        }
        return {};
    }
    std::int64_t clipped() const override { return clipped_; }

private:
    // The library would cut off what it should round.
    sf_count_t write_rounded(std::span<const double> samples, sf_count_t frames) {
        const double steps = 1 / step_, unused = std::ldexp(step_, 31);
        rounded_.resize(samples.size());
        std::ranges::transform(samples, rounded_.begin(), [&](double sample) {
            const double dithered = dither_ ? sample + dither_->next() : sample;
            const double whole = std::nearbyint(std::clamp(dithered * steps, -steps, steps - 1));
            return static_cast<int>(whole * unused);
        });
        return sf_writef_int(file_.get(), rounded_.data(), frames);
    }

    std::filesystem::path path_, part_;
    SoundFile file_;
    int channels_;
    bool holds_integers_;
    double step_; // of a word; 1 is full scale
    std::optional<TriangularDither> dither_;
    std::vector<int> rounded_;
    std::int64_t clipped_ = 0;
};

} // namespace

Expected<std::unique_ptr<SoundReader>> SoundReader::open(const std::filesystem::path& path) {
    SF_INFO info{};
    SoundFile file(sf_open(path.c_str(), SFM_READ, &info), sf_close);
    if (!file) {
        return refuse(path.string(), "is no sound file that can be read: " + reason_of(nullptr),
                      "choose a WAV, FLAC, AIFF or OGG file");
    }
    return std::make_unique<StreamReader>(path, std::move(file), info);
}

std::optional<std::string> cut_short(const SoundReader& sound) {
    if (sound.promised_frames() <= sound.shape().frames) {
        return {};
    }
    return fmt::format("its head speaks of {} samples, and {} are there", sound.promised_frames(),
                       sound.shape().frames);
}

Expected<std::unique_ptr<SoundWriter>> SoundWriter::create(const std::filesystem::path& path,
                                                           const SoundShape& shape,
                                                           SoundWords words, Dithering dithering) {
    const auto kind = std::ranges::find(sound_kinds, lower_case(path.extension().string()),
                                        [](const SoundKind& k) { return k.ending; });
    if (kind == sound_kinds.end()) {
        return refuse(path.string(), "has no ending of a sound file that can be written",
                      "end it in .wav, .flac, .aiff or .w64");
    }
    if (kind->format == SF_FORMAT_FLAC && words == SoundWords::float_32) {
        return refuse(path.string(), "FLAC holds integers only", "choose 16 or 24 bits");
    }
    SF_INFO info{};
    info.samplerate = static_cast<int>(shape.sample_rate_hz);
    info.channels = shape.channels;
    info.format = kind->format | subformat_of(words);
    if (info.samplerate != shape.sample_rate_hz || sf_format_check(&info) == 0) {
        return refuse(path.string(),
                      fmt::format("{} channels at {} Hz cannot stand in such a file",
                                  shape.channels, shape.sample_rate_hz),
                      "choose another kind of file, or a whole sample rate");
    }
    std::filesystem::path part = path;
    part += ".part";
    SoundFile file(sf_open(part.c_str(), SFM_WRITE, &info), sf_close);
    if (!file) {
        const std::string reason = reason_of(nullptr);
        std::error_code ignored;
        std::filesystem::remove(part, ignored); // of a full disk, made and without its head
        return refuse(path.string(), "cannot be written: " + reason,
                      "choose another folder, or make room");
    }
    return std::make_unique<StreamWriter>(path, std::move(part), std::move(file), shape.channels,
                                          words, dithering);
}

} // namespace syntonon
