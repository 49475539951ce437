// Signals of the bench into sound files, beside the window.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/bench_work.h"
#include "app/model/beside.h"
#include "core/exchange/sound_stream.h"

#include <QObject>
#include <QString>

namespace syntonon {

struct SoundFormatWish {
    SoundWords words = SoundWords::int_24;
    Dithering dithering = Dithering::triangular;
};

class SaveSound : public QObject {
    Q_OBJECT

public:
    using QObject::QObject;

    // One file at a time; the kind by the path's ending.
    void save(const SharedSamples& samples, double sample_rate_hz, const QString& path,
              const SoundFormatWish& wish);
    // What a filter makes of it, from rest.
    void save_made(const Filter& filter, const SharedSamples& in, double sample_rate_hz,
                   const QString& path, const SoundFormatWish& wish);
    // A whole sound file of any length and any number of channels through a filter.
    void save_through(const QString& from, const Filter& filter, double sample_rate_hz,
                      const QString& path, const SoundFormatWish& wish);
    // Nothing is written: what there would be cannot be had.
    void give_up(const QString& path, const Problem& problem) {
        take(path, tl::unexpected(problem));
    }
    bool is_busy() const { return work_.is_busy(); }
    // "Docent out.wav: 576000 samples", "◇ …: cannot be written: …".
    const QString& report() const { return report_; }
    bool has_failed() const { return failed_; } // of the last one

signals:
    void reported();

private:
    void take(const QString& path, const Expected<QString>& saved);

    Beside work_{this};
    QString report_;
    bool failed_ = false;
};

} // namespace syntonon
