// Poles and zeros in the z-plane, and what each adds at the plumb line.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QWidget>
#include <complex>
#include <vector>

namespace syntonon {

// A root or conjugate pair and its share of the level at one frequency, in dB.
struct RootShare {
    QString name; // "pole pair 870 Hz"
    double db = 0;
    int stage = 0;
};

// Largest first. A zero contributes 20 log10 |e^jw - zero|, a pole the negative of the same.
std::vector<RootShare> root_shares(const ChannelAnalysis& analysis, const Channel& channel, double hz, double sample_rate_hz);

class RootsPane : public QWidget {
    Q_OBJECT

public:
    explicit RootsPane(Session& session, QWidget* parent = nullptr);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;

private:
    struct DrawnRoot {
        QPointF at;
        int stage;
        bool pole;
        std::complex<double> value;
    };
    QPointF point_of(const std::complex<double>& z) const;
    std::vector<DrawnRoot> drawn_roots() const;
    const DrawnRoot* root_near(const std::vector<DrawnRoot>& roots, const QPointF& at) const;
    void layout_circle();
    void paint_circle(QPainter& painter);
    void paint_shares(QPainter& painter);

    Session& session_;
    QPointF centre_;
    double radius_ = 100;
    int shares_top_ = 0;
};

} // namespace syntonon
