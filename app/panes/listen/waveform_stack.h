// Input, outputs and reference above one another over one axis of time.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/bench_work.h"
#include "app/plot/sample_plot.h"

#include <QWidget>
#include <optional>
#include <utility>
#include <vector>

class QToolButton;

namespace syntonon {

// A drag selects a stretch, whose ends can be dragged again; the wheel shows more or less of the
// time, with Shift it moves along it; a double click shows all and looks at all. All rows have one
// scale unless that is unlocked; a row with a scale of its own says so.
class WaveformStack : public QWidget {
    Q_OBJECT

public:
    WaveformStack(Session& session, BenchWork& bench, QWidget* parent = nullptr);

    // Samples at the left and right edge.
    std::pair<double, double> shown() const;
    void show_samples(double from, double to);
    // Of a transient every row has its own scale until one is chosen.
    bool has_one_scale() const;
    QToolButton* scale_button() const { return scale_; }
    QToolButton* difference_button() const { return difference_; }
    QToolButton* compare_button() const { return compare_; }
    std::vector<Track> rows() const; // those that there are
    // What is drawn of a row, and where.
    SamplePlot plot(Track track) const;
    QRectF area(Track track) const;
    // Played just now: where a line stands; nothing: not shown.
    void show_place(std::optional<double> sample);

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void follow();
    void place_buttons();
    void fill_compare_menu();
    double sample_at(double x) const;
    double x_of(double sample) const;
    void zoom(double by, double about);
    double peak(Track track) const;
    bool is_silent(Track track) const;
    double common_peak() const;
    void paint_row(QPainter& painter, Track track) const;
    void paint_axis(QPainter& painter) const;
    void paint_span(QPainter& painter) const;
    QString title(Track track) const;
    QString pointer_text() const;

    Session& session_;
    BenchWork& bench_;
    QToolButton *scale_, *difference_, *compare_;
    int buttons_width_ = 0;
    std::optional<bool> one_scale_; // as chosen
    std::optional<std::pair<double, double>> part_;
    std::size_t seen_length_ = 0;
    std::optional<double> pointer_;   // a sample
    std::optional<double> held_from_; // a sample, while a stretch is drawn
    bool drawn_ = false;
    std::optional<double> place_;
};

} // namespace syntonon
