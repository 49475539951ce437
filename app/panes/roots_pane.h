// Poles and zeros in the z-plane or the s-plane, and what each adds at the plumb line.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include "app/widgets/theme.h"

#include <QPixmap>
#include <QWidget>
#include <complex>
#include <vector>

namespace syntonon {

// A root or conjugate pair and its share of the level at one frequency, in dB.
struct RootShare {
    QString name; // "pole pair 870 Hz"
    double db = 0;
    std::string stage; // its id
};

// Largest first. A zero contributes 20 log10 |e^jw - zero|, a pole the negative of the same; in the
// s-plane |jw - zero| by |zero|, and by 2 pi 1 kHz where that is 0.
std::vector<RootShare> root_shares(const ChannelAnalysis& analysis, const Channel& channel,
                                   double hz);

// Of an analog channel the left half-plane, as far as its roots go. The wheel magnifies about the
// pointer, dragging the ground shifts, a double click shows the whole circle again. Hover names a
// root; a click selects its stage.
class RootsPane : public QWidget {
    Q_OBJECT

public:
    explicit RootsPane(Session& session, QWidget* parent = nullptr);

    // Where a point of the plane is drawn, once the pane has been painted.
    QPointF point_of(const std::complex<double>& z) const;

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    struct DrawnRoot {
        QPointF at;
        std::string stage; // its id
        bool pole;
        std::complex<double> value;
        int count; // of equal ones
    };
    std::vector<DrawnRoot> drawn_roots() const;
    const DrawnRoot* root_near(const std::vector<DrawnRoot>& roots, const QPointF& at) const;
    void layout_plane();
    void paint_plane(QPainter& painter);
    void draw_z_plane(QPainter& painter) const;
    void draw_s_plane(QPainter& painter) const;
    double distance_shown() const; // from the origin, of analog roots: rad/s
    void paint_roots(QPainter& painter, bool of_selected_stage) const;
    const QPixmap& still_picture();
    void paint_shares(QPainter& painter);
    QString missing_roots() const; // which are not there, or not well known, and why

    // Circle and the roots of all stages but the selected one: the same for a whole drag.
    struct Still {
        QPixmap picture;
        QSize size;
        ThemeName theme{};
        std::string selected;
        QPointF centre;
        double radius = 0, unit = 1;
        std::vector<std::shared_ptr<const StageAnalysis>> stages;
        bool operator==(const Still& other) const {
            return size == other.size && theme == other.theme && selected == other.selected
                   && centre == other.centre && radius == other.radius && unit == other.unit
                   && stages == other.stages;
        }
    };

    Session& session_;
    Still still_;
    double magnification_ = 1;
    QPointF shift_; // of the plane's origin, in pixels
    std::optional<QPointF> panning_from_;
    QPointF centre_;
    double radius_ = 100;
    bool is_analog_ = false;
    double unit_ = 1; // what is drawn at radius_ from the origin
    int shares_top_ = 0;
};

} // namespace syntonon
