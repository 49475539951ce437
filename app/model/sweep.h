// One number of one stage between two values: by hand, back and forth by itself, as a family.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/study/knob.h"
#include "core/study/stability_edges.h"

#include <QObject>
#include <QTimer>
#include <optional>
#include <string>
#include <vector>

namespace syntonon {

class Sweep : public QObject {
    Q_OBJECT

public:
    explicit Sweep(Session& session, QObject* parent = nullptr);

    // With the usual range around its value.
    void take(const std::string& stage, const std::string& key);
    // Edges are looked for only while somebody looks at them.
    void watch(bool watched);
    void set_range(const KnobRange& range);
    const std::string& stage() const { return stage_; }
    const KnobRange& range() const { return range_; }
    bool goes_by_ratio() const;
    // As it is now; nothing where the stage or the number is gone.
    std::optional<Knob> knob() const;
    QString name() const; // "Q of Peak 870 Hz"
    // Of the range, found when it or something else in the stage changed.
    const std::vector<StabilityEdge>& edges() const { return edges_; }

    // Turns that belong together have one gesture.
    void turn_to(double value, const QString& gesture);
    // Between the ends and back, in four seconds each way, until it is stopped: one step.
    void run(bool on);
    bool is_running() const { return timer_.isActive(); }

    // `count` values from end to end, by ratio where the number goes so.
    std::vector<double> values(int count) const;
    // Takes of them, named by their value; one step.
    void freeze_family(int count);
    // Something done while each value is set, or while the family stands as takes; afterwards all
    // is as it was.
    void with_each(int count, const std::function<bool(int index, double value)>& act);
    void with_family(int count, const std::function<void()>& act);

signals:
    void changed(); // another number, range or edge

private:
    void follow();
    void find_edges();
    bool is_known() const;
    StageSpec what_decides() const;
    void add_family(Channel& channel, int count) const;
    void step();

    Session& session_;
    std::string channel_, stage_, key_; // ids are unique in a channel only
    bool is_watched_ = true;
    KnobRange range_;
    std::vector<StabilityEdge> edges_;
    std::optional<StageSpec> edges_of_; // with the number itself at the range's low end
    KnobRange edges_range_;
    QTimer timer_, rest_;
    QString gesture_;
    double phase_ = 0; // 0 low, 1 high, 2 low again
};

} // namespace syntonon
