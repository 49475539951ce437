// An impulse response with its gate, whose corners can be dragged.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/plot/sample_extremes.h"
#include "core/curve/gate.h"
#include "core/curve/measurement.h"

#include <QWidget>
#include <memory>
#include <optional>
#include <utility>
#include <vector>

namespace syntonon {

enum class ImpulseForm {
    impulse,
    step, // its running sum
    level // its magnitude in dB
};

// Time runs in ms from the arrival. The wheel shows more or less of it about the pointer, a drag
// moves along it, a double click shows all; the arrow keys move the corner in hand.
class ImpulsePlot : public QWidget {
    Q_OBJECT

public:
    explicit ImpulsePlot(QWidget* parent = nullptr);

    // Null: none, and why.
    void show_impulse(const SharedValue<Measurement>* measured, double middle_s,
                      const QString& otherwise);
    void show_gate(const std::optional<Gate>& gate);
    void show_form(ImpulseForm form);
    ImpulseForm form() const { return form_; }
    void show_ms(double from, double to);
    std::pair<double, double> shown_ms() const { return {from_ms_, to_ms_}; }
    QPointF corner(int which) const; // 0 to 3: from, full from, full to, to
    double ms_at(double x) const;
    double x_of(double ms) const;
    QRectF area() const;

signals:
    void gate_dragged(const Gate& gate);
    void drag_ended();
    void pointed_at(std::optional<double> ms); // at nothing: left

protected:
    void paintEvent(QPaintEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void keyReleaseEvent(QKeyEvent* event) override;
    void leaveEvent(QEvent* event) override;

private:
    void make_values();
    void show_gate_whole();
    std::optional<int> corner_at(const QPointF& point) const;
    void move_corner(int which, double ms);
    void zoom(double by, double about_ms);
    void paint_gate(QPainter& painter) const;
    void paint_axis(QPainter& painter) const;

    std::optional<SharedValue<Measurement>> measured_;
    double middle_s_ = 0;
    QString otherwise_;
    std::optional<Gate> gate_;
    ImpulseForm form_ = ImpulseForm::impulse;
    std::vector<double> values_;
    std::shared_ptr<const SampleExtremes> extremes_;
    double from_ms_ = -5, to_ms_ = 40;
    std::optional<int> held_; // a corner under the mouse button
    int in_hand_ = 2;         // for the keys
    std::optional<QPointF> pans_from_;
};

} // namespace syntonon
