// The samples of a sampled FIR as grips on the magnitude lane.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/sample_commands.h"
#include "app/plot/lane_plot.h"
#include "app/plot/lane_tool.h"
#include "core/design/fir.h"

#include <optional>
#include <vector>

class QMenu;

namespace syntonon {

// A ring is a sample: dragged up and down it has another gain, along it stands elsewhere between
// its neighbours. At the lane's lower edge it is silent. A diamond is one that is left to the
// program: a double click makes it so, and a ring again. Ctrl holds one direction, Shift is fine,
// arrow keys nudge the one held last, Delete removes it.
class SampleTool : public LaneTool {
public:
    SampleTool(LanePlot& plot, Session& session) : plot_(plot), session_(session) {}

    void paint(QPainter& painter) override;
    bool press(const QMouseEvent& event) override;
    bool move(const QMouseEvent& event) override;
    void release() override { held_.reset(); }
    bool key(const QKeyEvent& event) override;
    bool wants_key(const QKeyEvent& event) const;
    bool double_click(const QPointF& at);
    // What can be done with the sample there; nothing where there is none.
    void fill_menu(QMenu& menu, const QPointF& at);
    std::optional<QCursor> cursor_at(const QPointF& point) const override;
    bool is_holding() const override { return held_.has_value(); }
    std::vector<QPointF> handle_points() const override;

private:
    struct Held {
        std::size_t index;
        QPointF at, last;
        QString gesture;
    };
    const SamplesInHand& in_hand() const;
    QPointF point_of(const FirSample& sample) const;
    double floor() const; // where silence lies
    std::optional<std::size_t> sample_at(const QPointF& point) const;
    std::optional<std::size_t> last() const;
    void change(std::vector<FirSample>& samples, std::size_t index, const QPointF& to) const;
    bool nudge(double steps, double db);

    LanePlot& plot_;
    Session& session_;
    std::optional<Held> held_;
    std::optional<std::size_t> last_; // that was held
    // Worked out once for the same stage and goal.
    struct Known {
        FirSpec spec;
        const void* brief = nullptr;
        double rate = 0;
        SamplesInHand samples;
    };
    mutable std::optional<Known> known_;
};

} // namespace syntonon
