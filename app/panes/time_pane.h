// What the chain does to a single sample, a step, and how it dies away.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "app/model/session.h"
#include "app/plot/sample_plot.h"

#include <QWidget>
#include <vector>

class QMenu;

namespace syntonon {

enum class TimeView { impulse, step, decay };

// The wheel shows more or less of the time, a drag moves along it, a double click goes back to what
// is shown of itself: the first 8 ms, or all up to as far behind the greatest sample as that is
// from the start. Over samples too dense to be told apart a magnifier shows those at the pointer.
// What takes long is worked out beside the window.
class TimePane : public QWidget {
    Q_OBJECT

public:
    explicit TimePane(Session& session, QWidget* parent = nullptr);

    void show_view(TimeView view);
    // Levels instead of values, for impulse and step; without a floor: values.
    void show_decibels(std::optional<double> floor_db);
    // The shown values, one a sample; decay in dB below the whole energy (Schroeder, JASA 37,
    // 1965).
    const std::vector<double>& values() const { return values_; }
    SamplePlot plot() const { return SamplePlot(values_, style(), extremes_); }
    bool is_ready() const { return !stale_ && !work_.is_busy(); }
    std::pair<double, double> shown_samples() const; // of a sampled channel
    bool is_magnifying() const { return magnified_.has_value(); }

protected:
    void paintEvent(QPaintEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    struct Answer { // of a sampled channel
        std::vector<double> values;
        std::shared_ptr<const SampleExtremes> extremes;
        std::size_t loudest; // of the impulse response
    };
    static Answer answer_of(const Filter& chain, TimeView view, std::size_t length);
    void compute();
    void take(Answer answer);
    std::size_t needed_length(const Filter& chain) const;
    void show_samples(double from, double to);
    void zoom(double by, double about_sample);
    void magnify_at(const QPointF& position);
    QRectF area() const;
    QString place_text(double sample) const;
    void compute_analog(const Filter& chain);
    QString analog_note() const;
    int fitting_length(const Filter& chain) const; // index
    double shown_ms() const;
    SampleStyle style() const;
    QString scale_text() const;
    QRect scale_rect() const; // click: the choice of scales
    void fill_scales(QMenu& menu);

    Session& session_;
    TimeView view_ = TimeView::impulse;
    std::optional<double> floor_db_;
    std::vector<double> values_;
    std::shared_ptr<const SampleExtremes> extremes_;
    std::optional<std::pair<double, double>> chosen_; // samples, by wheel or drag
    std::size_t loudest_ = 0;
    std::optional<std::size_t> magnified_; // the sample at the pointer
    bool magnifies_ = true;
    std::optional<QPointF> held_at_;
    int zoom_ = 6; // of an analog channel: index into the offered lengths
    bool stale_ = true;
    int fitted_ = 6;         // the length that an analog channel is shown with
    bool is_chosen_ = false; // until one is chosen by the wheel
    QString problem_;        // why there is no answer
    double at_once_ = 0;     // of an analog channel
    Beside work_{this};
};

} // namespace syntonon
