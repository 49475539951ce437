// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/save_sound.h"

#include "core/engine/render.h"
#include "core/exchange/converted_sound.h"
#include "core/exchange/process_sound.h"

#include <algorithm>

namespace syntonon {
namespace {

QString told(std::int64_t frames, std::int64_t clipped) {
    return clipped == 0
               ? SaveSound::tr("%1 samples").arg(frames)
               : SaveSound::tr("%1 samples, of which %2 lay beyond full scale and were cut to it")
                     .arg(frames)
                     .arg(clipped);
}

Expected<QString> write_samples(std::span<const double> all, SoundWriter& writer,
                                const Watch& watch) {
    constexpr std::size_t at_once = 1 << 16;
    for (std::size_t from = 0; from < all.size(); from += at_once) {
        if (watch.is_stopped()) {
            return refuse("", "was stopped");
        }
        const auto piece = all.subspan(from, std::min(at_once, all.size() - from));
        if (auto written = writer.write(piece); !written) {
            return tl::unexpected(written.error());
        }
    }
    if (auto finished = writer.finish(); !finished) {
        return tl::unexpected(finished.error());
    }
    return told(static_cast<std::int64_t>(all.size()), writer.clipped());
}

Expected<QString> write_made(const Filter& filter, const SharedSamples& in, double sample_rate_hz,
                             const std::filesystem::path& to, const SoundFormatWish& wish,
                             const Watch& watch) {
    const auto made = render(filter, in->values(), 0, watch);
    if (!made) {
        return tl::unexpected(made.error());
    }
    if (made->runs_away_at) {
        return refuse("", "the chain is unstable: its output grows without end",
                      "bring its poles back inside of the circle");
    }
    auto writer = SoundWriter::create(to, {sample_rate_hz, 1, 0}, wish.words, wish.dithering);
    return writer ? write_samples(made->out, **writer, watch) : tl::unexpected(writer.error());
}

Expected<QString> write_through(const std::filesystem::path& from, const Filter& filter,
                                double sample_rate_hz, const std::filesystem::path& to,
                                const SoundFormatWish& wish, const Watch& watch) {
    auto opened = SoundReader::open(from);
    if (opened) {
        opened = converted(std::move(*opened), sample_rate_hz);
    }
    if (!opened) {
        return tl::unexpected(opened.error());
    }
    auto writer = SoundWriter::create(to, (*opened)->shape(), wish.words, wish.dithering);
    if (!writer) {
        return tl::unexpected(writer.error());
    }
    const auto done = process_sound(
        **opened, filter, 0,
        [&](std::span<const double> samples) { return (*writer)->write(samples); }, watch);
    if (!done) {
        return tl::unexpected(done.error());
    }
    if (auto finished = (*writer)->finish(); !finished) {
        return tl::unexpected(finished.error());
    }
    return told((*opened)->shape().frames, (*writer)->clipped());
}

} // namespace

void SaveSound::take(const QString& path, const Expected<QString>& saved) {
    const QString name = path.section('/', -1);
    failed_ = !saved;
    report_ = saved ? name + QStringLiteral(": ") + *saved
                    : QStringLiteral("◇ ") + QString::fromStdString(to_text(saved.error()));
    emit reported();
}

void SaveSound::save(const SharedSamples& samples, double sample_rate_hz, const QString& path,
                     const SoundFormatWish& wish) {
    auto writer =
        SoundWriter::create(path.toStdString(), {sample_rate_hz, 1, 0}, wish.words, wish.dithering);
    if (!writer) {
        take(path, tl::unexpected(writer.error()));
        return;
    }
    const std::shared_ptr<SoundWriter> held(std::move(*writer));
    work_.begin([samples, held](
                    const Watch& watch) { return write_samples(samples->values(), *held, watch); },
                [this, path](const Expected<QString>& saved) { take(path, saved); });
}

void SaveSound::save_made(const Filter& filter, const SharedSamples& in, double sample_rate_hz,
                          const QString& path, const SoundFormatWish& wish) {
    work_.begin(
        [=](const Watch& watch) {
            return write_made(filter, in, sample_rate_hz, path.toStdString(), wish, watch);
        },
        [this, path](const Expected<QString>& saved) { take(path, saved); });
}

void SaveSound::save_through(const QString& from, const Filter& filter, double sample_rate_hz,
                             const QString& path, const SoundFormatWish& wish) {
    work_.begin(
        [=](const Watch& watch) {
            return write_through(from.toStdString(), filter, sample_rate_hz, path.toStdString(),
                                 wish, watch);
        },
        [this, path](const Expected<QString>& saved) { take(path, saved); });
}

} // namespace syntonon
