// The curves of a network's parts: what goes round a loop, a branch alone, some stages together.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/plot/lane_content.h"

#include <QColor>
#include <QString>
#include <array>
#include <functional>
#include <vector>

namespace syntonon {

class PartGraphs {
public:
    struct Part {
        QString key, name; // "part:open_loop"
        QColor colour;
        Filter filter;
        LevelTrace level;             // empty while it is not shown
        LaneCurve graph, least, most; // a line, and the edges of a band where ripples are too dense
        Trace trace = {};             // of what is behind a mapping, for the other lanes, too
        LaneCurve phase = {}, delay = {};
    };

    PartGraphs(LanePlot& plot, Session& session);

    using IsShown = std::function<bool(const QString& key)>;
    using TraceOf = std::function<Trace(const Filter& filter)>;
    using Draw = std::function<void(const Part& part)>;
    // What there is of the selection now, and draws what is shown.
    void update(const IsShown& is_shown, const TraceOf& trace_of, const Draw& draw);

    const std::vector<Part>& parts() const { return parts_; }
    static bool is_shown_by_itself(const QString& key);

private:
    // Filters of what is behind a mapping are worked out only where they are shown.
    std::vector<Part> found(const IsShown& is_shown) const;
    void add_analog_side(const IsShown& is_shown, std::vector<Part>& found) const;
    void add_stage_side(const Stage& stage, const IsShown& is_shown,
                        std::vector<Part>& found) const;

    LanePlot& plot_;
    Session& session_;
    std::vector<Part> parts_;
    std::vector<std::array<LaneCurve, 5>> graphs_; // made once, used by whatever parts there are
};

} // namespace syntonon
