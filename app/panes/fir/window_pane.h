// The window that an FIR's taps are weighted with: over the taps, and what it does to a spectrum.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/design/working.h"
#include "core/math/window.h"
#include "core/math/window_facts.h"

#include <QWidget>
#include <memory>
#include <optional>
#include <string>
#include <utility>
#include <vector>

class QCheckBox;

namespace syntonon {

// A drawn window has its points as squares: they are dragged (Escape takes the drag back), a double
// click adds one, Delete or the right button takes one away; with their mirror images or alone. Of
// a window with a parameter the highest side lobe is dragged, or moved by arrow keys. Beside the
// window's spectrum is the filter's, from its edge on, where it has one.
class WindowPane : public QWidget {
    Q_OBJECT

public:
    explicit WindowPane(Session& session, QWidget* parent = nullptr);
    // The selected stage's taps are weighted with a window.
    static bool is_there(const Session& session);

    const std::vector<double>& values() const { return window_.values; }
    QString facts() const;
    QPointF position_of(const WindowPoint& point) const;
    std::optional<QPointF> lobe_grip() const;
    QCheckBox* symmetric() const { return symmetric_; }
    // Of the filter, in dB, at so many of the window's bins from its edge.
    const std::vector<std::pair<double, double>>& filter_levels() const { return beside_; }

protected:
    void showEvent(QShowEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void refresh();
    const std::vector<WindowPoint>* points() const; // of a drawn window; else null
    WindowPoint point_at(const QPointF& position) const;
    std::optional<std::size_t> grip_at(const QPointF& position) const;
    void find_filter_levels();
    double y_of_level(double db) const; // in the spectrum
    void move_point(std::size_t i, WindowPoint to, const QString& gesture);
    void remove_point(std::size_t i);
    QRectF time_area() const;
    QRectF spectrum_area() const;
    void paint_time(QPainter& painter) const;
    void paint_spectrum(QPainter& painter) const;
    void paint_levels(QPainter& painter) const;

    Session& session_;
    WorkingCurve window_;
    std::optional<WindowSpectrum> spectrum_;
    std::optional<WindowFacts> facts_;
    std::shared_ptr<const ChannelAnalysis> shown_;
    std::string shown_stage_;
    std::optional<std::size_t> chosen_;
    QString gesture_;                   // of a drag; empty: none
    QString lobe_gesture_;              // the same, of the side lobe
    double floor_db_ = -60, bins_ = 12; // how much of the spectrum is shown
    std::vector<std::pair<double, double>> beside_;
    QCheckBox* symmetric_;
    QString problem_;
};

} // namespace syntonon
