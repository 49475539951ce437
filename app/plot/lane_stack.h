// The lanes as one sees and handles them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/plot/band_tool.h"
#include "app/plot/delay_tool.h"
#include "app/plot/goal_grip_tool.h"
#include "app/plot/lane_content.h"
#include "app/plot/lane_labels.h"
#include "app/plot/lane_plot.h"
#include "app/plot/plumb_readout.h"
#include "app/plot/roots_lane.h"
#include "app/plot/sample_tool.h"
#include "app/plot/stage_grip_tool.h"
#include "app/plot/weight_tool.h"

#include <limits>
#include <vector>

namespace syntonon {

// Curves below, and above them what moves with the pointer: labels, grips, plumb line. Dragging an
// empty place magnifies, a click lets the plumb line down, Shift and a click a second one.
class LaneStack : public LanePlot {
    Q_OBJECT

public:
    // The selected channel's curves, with grips to shape them.
    explicit LaneStack(Session& session, QWidget* parent = nullptr);
    // Something else that lies on the same axes, to be looked at.
    LaneStack(Session& session, MakeLaneContent make, QWidget* parent = nullptr);

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
    // All that is magnified in one line, and where it stands; empty while nothing is.
    QString magnified_line() const;
    QRect magnified_rect() const;
    // "▲ up to 31 ms · click: show it", where a curve leaves its lane; else empty.
    QString beyond_text(Lane lane) const {
        return beyond_texts_.at(static_cast<std::size_t>(lane));
    }
    void show_all_of(Lane lane); // widens the lane's range until nothing leaves it

    const LaneContent& curves() const { return *content_; }
    const MakeLaneContent& maker() const { return make_content_; }
    void show_curve(const QString& key, bool shown);
    void show_alone(const std::optional<QString>& key);
    void choose_curves(const CurveChoices& choices);
    const std::array<LaneRange, lane_count>& home_ranges() const { return home_ranges_; }
    const std::vector<PlacedLabel>& labels() const { return labels_; }

    // Moves the plumb line by keyboard: by octaves, from the middle when there is none.
    void move_plumb(double octaves);
    void toggle_plumb_pin();
    // The readout as a column beside the lanes instead of a box on them.
    void set_readout_column(bool column);
    const PlumbReadout& readout() const { return readout_; }

    // Only on lanes that shape.
    bool has_grips() const { return grips_ != nullptr; }
    const StageGripTool& stage_grips() const { return grips_->stage; }
    const GoalGripTool& goal_grips() const { return grips_->goal; }
    const RootsLane& roots_lane() const { return roots_; }
    const WeightTool& weight_grips() const { return grips_->weight; }
    const DelayTool& delay_grip() const { return grips_->delay; }
    const SampleTool& sample_grips() const { return grips_->samples; }

    Session& session() const { return session_; }
    // Hides the curves that `other` hides.
    void show_like(const LaneStack& other);
    // Curves and what stands above them, as the widget would paint them, onto any device.
    void paint_onto(QPaintDevice& device, const QSize& size);

signals:
    void goal_asked_for();
    void view_changed();
    void curves_chosen(); // others are shown
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
    void paint_marks(QPainter& painter);
    void paint_plumb(QPainter& painter);
    void paint_tone(QPainter& painter);
    void paint_live(QPainter& painter);
    void paint_magnified(QPainter& painter);
    void paint_beyond(QPainter& painter);
    void paint_error_axis(QPainter& painter);
    void lay_labels();
    void redraw();
    std::vector<LaneTool*> tools();
    LaneTool* holding();
    LaneZoom home() const;
    QRect title_rect(Lane lane) const;
    // How far the curves reach, where they leave a lane.
    struct Beyond {
        double low = std::numeric_limits<double>::infinity(), high = -low;
        bool is_corridor = false; // else a curve
    };
    std::optional<Beyond> beyond(Lane lane) const;
    QString beyond_words(Lane lane) const;
    QRect beyond_rect(Lane lane) const;
    QRect frequency_rect() const; // the numbers below the lowest lane
    bool open_axis_menu(const QPoint& at);
    void finish_band(const QMouseEvent& event);
    void click(const QMouseEvent& event);
    const PlacedLabel* label_at(const QPointF& point) const;

    Session& session_;
    struct Grips {
        StageGripTool stage;
        GoalGripTool goal;
        WeightTool weight;
        SampleTool samples;
        DelayTool delay;
    };
    MakeLaneContent make_content_;
    std::unique_ptr<LaneContent> content_;
    std::unique_ptr<Grips> grips_;
    RootsLane roots_;
    BandTool bands_;
    PlumbReadout readout_;
    QWidget* overlay_; // an Overlay
    QPointF pressed_at_;
    std::optional<QPointF> band_to_; // the other corner, while a part is being chosen
    bool pressed_on_lane_ = false;
    bool shows_focus_ = false; // it came by keyboard
    std::array<LaneRange, lane_count> home_ranges_ = LaneZoom{}.ranges;
    std::vector<std::pair<LaneZoom, QString>> before_; // zooms to go back to
    QString magnified_what_;
    std::vector<PlacedLabel> labels_;
    std::vector<LaneMark> marks_;
    std::array<QString, lane_count> beyond_texts_; // as of the curves that are drawn
};

} // namespace syntonon
