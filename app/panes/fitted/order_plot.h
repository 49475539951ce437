// What fits of several orders come to: error over order.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/fit/fit_recursive.h"

#include <QWidget>
#include <optional>
#include <vector>

class QPainter;

namespace syntonon {

// Discs are root mean squares, lozenges the greatest errors; a stem stands at the order that is
// set. A click, or Enter after arrow keys, takes an order.
class OrderPlot : public QWidget {
    Q_OBJECT

public:
    explicit OrderPlot(QWidget* parent = nullptr);

    void show_errors(std::vector<OrderError> errors, int order_now, const QString& unit);
    QPointF position_of(const OrderError& error) const; // its disc
    // Of what is pointed at, else of the order that is set; empty where nothing was tried.
    QString words() const;

signals:
    void order_chosen(int order);
    void pointed();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    QRectF area() const;
    double x_of(int order) const;
    double y_of(double error) const;
    std::optional<std::size_t> nearest(const QPointF& at) const;
    void point_at(std::optional<std::size_t> place);
    void paint_axes(QPainter& painter) const;
    void paint_errors(QPainter& painter) const;

    std::vector<OrderError> errors_; // ascending orders
    int order_now_ = 0;
    QString unit_;
    std::optional<std::size_t> pointed_;
};

} // namespace syntonon
