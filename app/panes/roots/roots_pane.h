// Poles and zeros in the z-plane or the s-plane, to be taken by the hand.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/plane_roots.h"
#include "app/model/root_commands.h"
#include "app/model/session.h"
#include "app/panes/roots/plane_view.h"
#include "app/panes/roots/relief_picture.h"
#include "app/panes/roots/word_roots.h"
#include "app/widgets/theme.h"

#include <QPixmap>
#include <QTimer>
#include <QWidget>
#include <complex>
#include <optional>
#include <vector>

class QMenu;
class QToolButton;

namespace syntonon {

// Of an analog channel the left half-plane, as far as its roots go. A root is dragged with its
// conjugate; Ctrl and a click take more in hand, Shift and a drag on the ground all in a frame.
// Shift: finely; Ctrl: along the radius or the angle only; Alt: zeros do not snap to the circle.
// Arrow keys nudge, Page Up and Page Down go from root to root, Escape takes a drag back. The wheel
// magnifies about the pointer, dragging the ground shifts, a double click shows all again.
class RootsPane : public QWidget {
    Q_OBJECT

public:
    explicit RootsPane(Session& session, QWidget* parent = nullptr);

    // Where a point of the plane is drawn, once the pane has been painted.
    QPointF point_of(const std::complex<double>& z) const { return view_.at(z); }
    void show_roots(RootsShown shown);
    void show_relief(const ReliefLook& look);
    const ReliefLook& relief() const { return look_; }
    void hold_radius(bool held) { holds_radius_ = held; }
    void hold_angle(bool held) { holds_angle_ = held; }
    // What the last action could not do; empty.
    const QString& problem() const { return problem_; }
    // "Add", "Change", "Show": what the pane's menus hold.
    QMenu* menu(int index) const;
    const WordRoots& word_roots() const { return word_roots_; }
    // Magnifies about the pole in hand, or the one nearest the circle, until the dots are seen.
    void show_places_of_words();

    // Each a step of the history, on the roots in hand.
    void add(bool pole, const std::complex<double>& at);
    void mirror_in_hand();
    void put_in_hand_on_circle();
    void cancel_in_hand();
    void duplicate_in_hand();
    void remove_in_hand();

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    bool event(QEvent* event) override;

private:
    // Circle and the roots that are not in work: the same for a whole drag.
    struct Still {
        QPixmap picture;
        QSize size;
        ThemeName theme{};
        std::string selected;
        PlaneView view;
        RootsShown shown{};
        bool on_relief = false; // then the ground is transparent
        std::vector<std::shared_ptr<const StageAnalysis>> stages;
        bool operator==(const Still& other) const {
            return size == other.size && theme == other.theme && selected == other.selected
                   && view == other.view && shown == other.shown && on_relief == other.on_relief
                   && stages == other.stages;
        }
    };
    struct Relief {
        QImage picture;
        Filter filter;
        PlaneView view;
        ReliefLook look;
        QSize size;
        int step;
        ThemeName theme;
        bool is_like(const Relief& other) const {
            return filter.is_same_as(other.filter) && view == other.view && look == other.look
                   && size == other.size && step == other.step && theme == other.theme;
        }
    };

    static constexpr double greatest_magnification = 1 << 20; // words of 24 bits are told apart

    void make_buttons();
    void fill_add(QMenu& menu, const std::complex<double>& at);
    void fill_change(QMenu& menu);
    void fill_show(QMenu& menu);

    std::vector<PlaneRoot> roots() const { return plane_roots(session_, shown_); }
    const PlaneRoot* root_near(const std::vector<PlaneRoot>& roots, const QPointF& at) const;
    std::complex<double> plumb_place() const;
    void take(const PlaneRoot& root, const QMouseEvent& event);
    void drag_to(const QMouseEvent& event);
    std::complex<double> locked(std::complex<double> to, const QMouseEvent& event) const;
    void take_in_frame();
    void hover(const QMouseEvent& event);
    void nudge(int key, bool fine);
    void hold_next(int by);
    void change(const QString& name, const ChangeRoots& change);
    void say(const Expected<void>& done);
    void follow_analysis();

    void layout_plane();
    double distance_shown() const; // from the origin, of analog roots: rad/s
    const QPixmap& still_picture();
    void paint_plane(QPainter& painter);
    void paint_relief(QPainter& painter);
    void paint_cut(QPainter& painter) const;
    void draw_z_plane(QPainter& painter) const;
    void draw_s_plane(QPainter& painter) const;
    void paint_roots(QPainter& painter, bool of_selected_stage) const;
    void paint_before(QPainter& painter) const;
    void paint_plumb(QPainter& painter) const;
    void paint_words(QPainter& painter) const;
    void paint_shares(QPainter& painter);
    QString in_hand_words() const;
    QString missing_roots() const; // which are not there, or not well known, and why

    Session& session_;
    QToolButton *add_, *change_, *show_;
    RootsShown shown_ = RootsShown::whole_chain;
    ReliefLook look_;
    Still still_;
    std::optional<Relief> relief_;
    WordRoots word_roots_;
    QTimer refine_, forget_;
    bool is_coarse_ = false;
    PlaneView view_;
    double magnification_ = 1;
    QPointF shift_; // of the plane's origin, in pixels
    int shares_top_ = 0;
    std::optional<RootDrag> drag_;
    std::optional<QPointF> panning_from_, frame_from_;
    QPointF frame_to_, last_, travelled_;
    bool holds_radius_ = false, holds_angle_ = false, keeps_level_ = false;
    std::vector<PlaneRoot> before_; // as they were before a mirroring, for a moment
    std::vector<RootShare> shares_; // as painted
    QString problem_;
};

} // namespace syntonon
