// What the selected FIR would gain by another length or delay, with where it stands.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/trade_curve.h"

#include <QWidget>
#include <optional>
#include <utility>

class QComboBox;
class QLabel;
class QPushButton;

namespace syntonon {

// The point that is pointed at (or chosen by arrow keys) is drawn on the lanes; a click, or Enter,
// takes it. A square is the filter as it is.
class TradePlot : public QWidget {
    Q_OBJECT

public:
    TradePlot(Session& session, TradeCurve& curve, QWidget* parent = nullptr);

    QPointF position_of(const TradePoint& point) const;
    std::optional<std::size_t> pointed_at() const { return pointed_; }

signals:
    void pointed(); // at another point, or at none

protected:
    void paintEvent(QPaintEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void hideEvent(QHideEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    struct Scale {
        double low = 0, high = 1;
        bool by_ratio = false;
        double part_of(double value) const;
    };
    QRectF area() const;
    std::optional<double> gained(const TradePoint& point) const;
    void fit_scales();
    void point_at(std::optional<std::size_t> point);
    std::optional<std::size_t> nearest(const QPointF& at) const;
    void paint_axes(QPainter& painter) const;
    void paint_curve(QPainter& painter) const;

    Session& session_;
    TradeCurve& curve_;
    Scale given_, gain_;
    std::optional<std::size_t> pointed_;
};

class TradePane : public QWidget {
    Q_OBJECT

public:
    explicit TradePane(Session& session, QWidget* parent = nullptr);
    static bool is_there(const Session& session); // the selected stage is an FIR with such curves

    TradeCurve& curve() { return curve_; }
    TradePlot* plot() const { return plot_; }
    QComboBox* chooser() const { return chooser_; }
    QPushButton* stop() const { return stop_; }
    QString words() const;

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    void refresh();
    void show_words();

    Session& session_;
    TradeCurve curve_;
    QComboBox* chooser_;
    QPushButton* stop_;
    QLabel* words_;
    TradePlot* plot_;
};

} // namespace syntonon
