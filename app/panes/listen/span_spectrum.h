// The spectrum of the selected stretch: of input, output and reference, or output over input.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/bench_work.h"
#include "app/model/latest_beside.h"
#include "core/signal/hump.h"

#include <QWidget>
#include <array>
#include <optional>
#include <vector>

class QFrame;
class QLabel;
class QToolButton;

namespace syntonon {

struct SpectrumChoices {
    std::optional<SpectrumScale> scale; // nothing: what suits the signal
    std::optional<WindowShape> window;  // nothing: what suits the scale
    std::optional<std::size_t> length;  // nothing: what suits the stretch
    std::size_t most_averages = 0;      // 0: as many as fit
};

// A click takes what stands out there in hand, a drag any band; a box then offers what it can
// become. Escape puts it back. The wheel shows more or less below.
class SpanSpectrum : public QWidget {
    Q_OBJECT

public:
    SpanSpectrum(Session& session, BenchWork& bench, QWidget* parent = nullptr);

    struct Spectra {
        PerTrack<Spectrum> tracks; // of the ratio only the output's
        std::vector<Hump> humps;   // of the output, or of the input where there is none
        SpectrumScale scale = SpectrumScale::density;
        WindowShape window = WindowShape::hann;
        SharedSamples made_of; // the input
    };
    const Spectra& spectra() const { return spectra_; }
    bool is_busy() const { return work_.is_busy(); }
    void choose(const SpectrumChoices& choices);
    const SpectrumChoices& choices() const { return choices_; }
    const std::optional<Hump>& held() const { return held_; }
    // What stands out most, in hand as by a click.
    void hold_greatest();
    QFrame* offers() const { return offers_; }
    QString caption() const; // scale, points, averages
    QToolButton* caption_button() const { return menu_; }

    double x_of(double hz) const;
    double hz_at(double x) const;
    QRectF area() const;

signals:
    void worked_out();

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void showEvent(QShowEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void refresh();
    void take(Spectra spectra);
    void hold(std::optional<Hump> hump);
    void show_offers();
    void place_offers();
    void fill_menu();
    double y_of(double db) const;
    double top_db() const { return top_db_; }
    double bottom_db() const { return top_db_ - shown_db_; }
    void choose_range();
    QPolygonF line_of(const Spectrum& spectrum) const;
    void paint_grid(QPainter& painter) const;
    void paint_names(QPainter& painter,
                     const std::vector<std::pair<Track, QPolygonF>>& lines) const;
    void paint_humps(QPainter& painter) const;
    const Spectrum& judged() const; // that humps are found in
    bool is_of_this_signal() const; // not of the one before
    QString pointer_text() const;

    Session& session_;
    BenchWork& bench_;
    SpectrumChoices choices_;
    Spectra spectra_;
    LatestBeside work_{this};
    bool stale_ = true;
    double top_db_ = 0, shown_db_ = 96;
    std::optional<Hump> held_;
    std::optional<double> pressed_at_, pointer_; // x
    QToolButton* menu_;
    QFrame* offers_;
    QLabel* offers_title_;
};

} // namespace syntonon
