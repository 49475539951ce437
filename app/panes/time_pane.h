// What the chain does to a single sample, a step, and how it dies away.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QPolygonF>
#include <QWidget>
#include <vector>

class QPainter;

namespace syntonon {

enum class TimeView { impulse, step, decay };

class TimePane : public QWidget {
    Q_OBJECT

public:
    explicit TimePane(Session& session, QWidget* parent = nullptr);

    void show_view(TimeView view);
    // The shown values, one a sample; decay in dB below the whole energy (Schroeder, JASA 37,
    // 1965).
    const std::vector<double>& values() const { return values_; }

protected:
    void paintEvent(QPaintEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    struct Scale {
        double low, high, room;
        double y_of(double value, const QRectF& area) const;
    };
    void compute();
    double shown_ms() const;
    Scale scale() const;
    void paint_axes(QPainter& painter, const QRectF& area, const Scale& shown) const;
    QPolygonF line_in(const QRectF& area, const Scale& shown) const;

    Session& session_;
    TimeView view_ = TimeView::impulse;
    std::vector<double> values_;
    int zoom_ = 2; // index into the offered lengths
    bool stale_ = true;
};

} // namespace syntonon
