// Other ways to look at the signals on the bench: spectrogram, level over time, histogram.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/bench_work.h"
#include "app/model/latest_beside.h"
#include "core/signal/spectrogram.h"

#include <QPolygonF>
#include <QWidget>
#include <array>
#include <functional>
#include <optional>
#include <vector>

namespace syntonon {

// What the three have in common: worked out beside the window when they are looked at.
class BenchPicture : public QWidget {
    Q_OBJECT

public:
    BenchPicture(BenchWork& bench, const QString& name, QWidget* parent = nullptr);
    bool is_busy() const { return work_.is_busy(); }

protected:
    void showEvent(QShowEvent* event) override;
    virtual void refresh() = 0;

    std::vector<Track> there() const; // the tracks that hold something
    void show_made_of(const BenchStretch& stretch);
    // False when all there is yet is of another signal, and that has been said.
    bool begin_painting(QPainter& painter) const;
    void paint_time_axis(QPainter& painter, const QRectF& area) const;
    double paint_tag(QPainter& painter, const QPointF& at, Track track) const; // its right end
    // A line for each track, with tags at the top.
    void paint_lines(QPainter& painter, const QRectF& area,
                     const std::function<QPolygonF(Track)>& line_of) const;

    BenchWork& bench_;
    LatestBeside work_{this};

private:
    void mark_stale();
    bool stale_ = true;
    SharedSamples made_of_; // its input
};

class SpectrogramPage : public BenchPicture {
    Q_OBJECT

public:
    explicit SpectrogramPage(BenchWork& bench, QWidget* parent = nullptr);
    const PerTrack<Spectrogram>& spectrograms() const { return made_; }

protected:
    void refresh() override;
    void paintEvent(QPaintEvent* event) override;

private:
    PerTrack<Spectrogram> made_;
    float top_db_ = 0; // of the colours, for all of them
};

class LevelTimePage : public BenchPicture {
    Q_OBJECT

public:
    explicit LevelTimePage(BenchWork& bench, QWidget* parent = nullptr);
    const PerTrack<std::vector<double>>& levels() const { return levels_; }

protected:
    void refresh() override;
    void paintEvent(QPaintEvent* event) override;

private:
    PerTrack<std::vector<double>> levels_;
    double stretch_s_ = 0.05;
};

class HistogramPage : public BenchPicture {
    Q_OBJECT

public:
    explicit HistogramPage(BenchWork& bench, QWidget* parent = nullptr);
    const PerTrack<std::vector<std::size_t>>& counts() const { return counts_; }

protected:
    void refresh() override;
    void paintEvent(QPaintEvent* event) override;

private:
    PerTrack<std::vector<std::size_t>> counts_;
    double peak_ = 1;
};

} // namespace syntonon
