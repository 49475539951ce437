// What the chain does to a single sample, a step, and how it dies away.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/plot/sample_plot.h"

#include <QWidget>
#include <vector>

class QMenu;

namespace syntonon {

enum class TimeView { impulse, step, decay };

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
    SamplePlot plot() const { return SamplePlot(values_, style()); }

protected:
    void paintEvent(QPaintEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;

private:
    void compute();
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
    int zoom_ = 6; // index into the offered lengths
    bool stale_ = true;
    int fitted_ = 6;         // the length that an analog channel is shown with
    bool is_chosen_ = false; // until one is chosen by the wheel
    QString problem_;        // why there is no answer
    double at_once_ = 0;     // of an analog channel
};

} // namespace syntonon
