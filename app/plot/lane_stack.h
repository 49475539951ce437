// The lanes as one sees and handles them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/plot/goal_grip_tool.h"
#include "app/plot/lane_curves.h"
#include "app/plot/lane_labels.h"
#include "app/plot/lane_plot.h"
#include "app/plot/stage_grip_tool.h"
#include "app/plot/weight_tool.h"

#include <vector>

namespace syntonon {

// Curves below, and above them what moves with the pointer: labels, grips, plumb line. Dragging an
// empty place magnifies, a click lets the plumb line down, Shift and a click a second one.
class LaneStack : public LanePlot {
    Q_OBJECT

public:
    explicit LaneStack(Session& session, QWidget* parent = nullptr);

    void set_goal_editing(bool active);
    void change_view(const LaneView& view);
    // Chooses a lane's range for good: what "home" goes back to.
    void change_range(Lane lane, const LaneRange& range);

    // Shows a part; back undoes the last such step, home all of them.
    void magnify(const LaneZoom& zoom, const QString& what = {});
    void zoom_back();
    void zoom_home();
    bool is_magnified() const { return !(zoom() == home()); }
    // The surroundings of a finding's worst frequency, with the plumb line there.
    void magnify_finding(const Finding& finding);
    // "±0.4 dB shown", where a lane shows less than it does by itself; else empty.
    QString magnified_text(Lane lane) const;

    const LaneCurves& curves() const { return curves_; }
    void show_curve(const QString& key, bool shown);
    void show_alone(const std::optional<QString>& key);
    const std::vector<PlacedLabel>& labels() const { return labels_; }

    // Moves the plumb line by keyboard: by octaves, from the middle when there is none.
    void move_plumb(double octaves);
    void toggle_plumb_pin();

    const StageGripTool& stage_grips() const { return stage_grips_; }
    const GoalGripTool& goal_grips() const { return goal_grips_; }
    const WeightTool& weight_grips() const { return weight_grips_; }

    Session& session() const { return session_; }
    // Hides the curves that `other` hides.
    void show_like(const LaneStack& other);
    // Curves and what stands above them, as the widget would paint them, onto any device.
    void paint_onto(QPaintDevice& device, const QSize& size);

signals:
    void goal_asked_for();
    void view_changed();
    void save_asked_for(std::optional<syntonon::Lane> lane);

protected:
    bool event(QEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void leaveEvent(QEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    class Overlay;
    void paint_overlay(QPainter& painter);
    void paint_titles(QPainter& painter);
    void paint_magnified(QPainter& painter);
    void lay_labels();
    void redraw();
    std::array<LaneTool*, 3> tools() { return {&goal_grips_, &weight_grips_, &stage_grips_}; }
    LaneTool* holding();
    LaneZoom home() const;
    QString title_of_lane(Lane lane) const;
    QRect title_rect(Lane lane) const;
    QRect magnified_rect() const; // what says that less than all is shown
    QRect frequency_rect() const; // the numbers below the lowest lane
    bool open_axis_menu(const QPoint& at);
    void finish_band(const QMouseEvent& event);
    void click(const QMouseEvent& event);
    const PlacedLabel* label_at(const QPointF& point) const;

    Session& session_;
    LaneCurves curves_;
    StageGripTool stage_grips_;
    GoalGripTool goal_grips_;
    WeightTool weight_grips_;
    Overlay* overlay_;
    QPointF pressed_at_;
    std::optional<QPointF> band_to_; // the other corner, while a part is being chosen
    bool pressed_on_lane_ = false;
    bool shows_focus_ = false; // it came by keyboard
    std::array<LaneRange, lane_count> home_ranges_ = LaneZoom{}.ranges;
    std::vector<std::pair<LaneZoom, QString>> before_; // zooms to go back to
    QString magnified_what_;
    std::vector<PlacedLabel> labels_;
};

} // namespace syntonon
