// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/sweep.h"

#include "app/model/stage_commands.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr int tick_ms = 33, rest_ms = 150;
constexpr double ticks_one_way = 4000.0 / tick_ms;

} // namespace

Sweep::Sweep(Session& session, QObject* parent) : QObject(parent), session_(session) {
    timer_.setInterval(tick_ms);
    connect(&timer_, &QTimer::timeout, this, &Sweep::step);
    rest_.setSingleShot(true);
    rest_.setInterval(rest_ms);
    connect(&rest_, &QTimer::timeout, this, [this] {
        find_edges();
        emit changed();
    });
    connect(&session_, &Session::analysis_changed, this, &Sweep::follow);
}

void Sweep::take(const std::string& stage, const std::string& key) {
    run(false);
    channel_ = session_.channel() != nullptr ? session_.channel()->id : std::string();
    stage_ = stage;
    key_ = key;
    if (const auto now = knob()) {
        range_ = usual_range(*now);
    }
    find_edges();
    emit changed();
}

void Sweep::set_range(const KnobRange& range) {
    if (range.low < range.high) {
        range_ = range;
        find_edges();
        emit changed();
    }
}

bool Sweep::goes_by_ratio() const {
    const auto now = knob();
    return now && now->steps == FieldSteps::by_ratio && range_.low > 0;
}

void Sweep::watch(bool watched) {
    is_watched_ = watched;
    if (watched) {
        find_edges();
    }
}

std::optional<Knob> Sweep::knob() const {
    const bool is_here = session_.channel() != nullptr && session_.channel()->id == channel_;
    const Stage* stage = is_here ? session_.stage(stage_) : nullptr;
    return stage != nullptr ? knob_of(stage->spec, key_) : std::nullopt;
}

QString Sweep::name() const {
    const Stage* stage = session_.stage(stage_);
    const auto now = knob();
    return now ? tr("%1 of %2").arg(QString::fromStdString(now->caption), spoken_name(*stage))
               : QString();
}

// What else in the stage is dragged moves the edges: they are found when the hand rests.
void Sweep::follow() {
    if (!knob()) {
        run(false);
    } else if (is_watched_ && !is_known()) {
        edges_.clear();
        edges_of_.reset();
        rest_.start();
    }
    emit changed();
}

// They hold whatever the number's own value. The whole of what is at the chain's top and holds the
// stage.
StageSpec Sweep::what_decides() const {
    Chain chain = session_.channel()->stages;
    edit_stage(chain, stage_, [this](Stage& s) { turn(s.spec, key_, range_.low); });
    return (*std::ranges::find_if(chain,
                                  [this](const auto& s) {
                                      return s->id == stage_ || find_stage({*s}, stage_) != nullptr;
                                  }))
        ->spec;
}

bool Sweep::is_known() const {
    return edges_of_ && edges_range_ == range_ && *edges_of_ == what_decides();
}

void Sweep::find_edges() {
    if (!knob()) {
        edges_.clear();
        edges_of_.reset();
        return;
    }
    if (is_known()) {
        return;
    }
    rest_.stop();
    edges_of_ = what_decides();
    edges_range_ = range_;
    edges_ = stability_edges(
        margin_of_knob(session_.channel()->stages, stage_, key_, brief_at(session_.axis())), range_,
        goes_by_ratio());
}

void Sweep::turn_to(double value, const QString& gesture) {
    const auto now = knob();
    if (!now) {
        return;
    }
    const double whole = now->steps == FieldSteps::whole ? std::round(value) : value;
    session_.edit_channel(
        tr("Turn %1").arg(name()),
        [&](Channel& channel) {
            edit_stage(channel.stages, stage_, [&](Stage& s) { turn(s.spec, key_, whole); });
        },
        gesture);
}

void Sweep::run(bool on) {
    if (!on) {
        timer_.stop();
        return;
    }
    const auto now = knob();
    if (!now) {
        return;
    }
    gesture_ = session_.new_gesture();
    const double part = goes_by_ratio()
                            ? std::log(now->value / range_.low) / std::log(range_.high / range_.low)
                            : (now->value - range_.low) / (range_.high - range_.low);
    phase_ = std::clamp(part, 0.0, 1.0);
    timer_.start();
}

void Sweep::step() {
    phase_ = std::fmod(phase_ + 1 / ticks_one_way, 2.0);
    const double part = phase_ <= 1 ? phase_ : 2 - phase_;
    turn_to(goes_by_ratio() ? range_.low * std::pow(range_.high / range_.low, part)
                            : range_.low + (range_.high - range_.low) * part,
            gesture_);
}

std::vector<double> Sweep::values(int count) const {
    std::vector<double> values;
    for (int i = 0; i < count; ++i) {
        const double part = count > 1 ? static_cast<double>(i) / (count - 1) : 0.5;
        values.push_back(goes_by_ratio() ? range_.low * std::pow(range_.high / range_.low, part)
                                         : range_.low + (range_.high - range_.low) * part);
    }
    return values;
}

void Sweep::add_family(Channel& channel, int count) const {
    const auto now = knob();
    for (const double value : values(count)) {
        Take take;
        take.id = fresh_take_id(channel);
        take.name = now->caption + " " + text_with_digits(value, 4)
                    + (now->unit.empty() ? "" : " " + now->unit);
        take.stages = channel.stages;
        edit_stage(take.stages, stage_, [&](Stage& s) { turn(s.spec, key_, value); });
        channel.takes.emplace_back(std::move(take));
    }
}

void Sweep::freeze_family(int count) {
    if (knob()) {
        session_.edit_channel(tr("Freeze the family of %1").arg(name()),
                              [&](Channel& channel) { add_family(channel, count); });
    }
}

void Sweep::with_family(int count, const std::function<void()>& act) {
    if (!knob()) {
        return;
    }
    const QString gesture = session_.new_gesture();
    session_.edit_channel(
        tr("Show a family"), [&](Channel& channel) { add_family(channel, count); }, gesture);
    act();
    session_.cancel_gesture(gesture);
}

void Sweep::with_each(int count, const std::function<bool(int, double)>& act) {
    run(false);
    const QString gesture = session_.new_gesture();
    const auto all = values(count);
    for (std::size_t i = 0; i < all.size(); ++i) {
        turn_to(all[i], gesture);
        if (!act(static_cast<int>(i), all[i])) {
            break;
        }
    }
    session_.cancel_gesture(gesture);
}

} // namespace syntonon
