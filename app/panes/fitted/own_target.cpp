// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/fitted/own_target.h"

#include "app/model/fitted_commands.h"
#include "app/panes/correction/limit_table.h"
#include "app/panes/goal/number_table.h"
#include "app/widgets/words.h"

#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <utility>

namespace syntonon {
namespace {

LimitTable* make_table(OwnLine line) {
    switch (line) {
    case OwnLine::phase:
        return new LimitTable(tr("Phase of its own"), tr("phase, °"),
                              tr("Of the chain; straight over log frequency between the points"));
    case OwnLine::delay:
        return new LimitTable(tr("Delay of its own"), tr("delay, ms"),
                              tr("Of the chain; straight over log frequency between the points"));
    case OwnLine::level:
        break;
    }
    return new LimitTable(tr("Target of its own"), tr("level, dB"),
                          tr("Straight in dB over log frequency between the points, level beyond "
                             "them; chain and measured set together shall have it"));
}

// As the fit itself would refuse it.
Expected<void> check_own(const FittedSpec& spec, OwnLine line) {
    switch (line) {
    case OwnLine::phase:
        return check(*spec.phase_target, "phase_deg");
    case OwnLine::delay:
        return check(*spec.delay_target, "delay_ms");
    case OwnLine::level:
        break;
    }
    return check(*spec.target);
}

} // namespace

std::vector<TargetPoint>* points_of(FittedSpec& spec, OwnLine line) {
    switch (line) {
    case OwnLine::phase:
        return spec.phase_target ? &spec.phase_target->points : nullptr;
    case OwnLine::delay:
        return spec.delay_target ? &spec.delay_target->points : nullptr;
    case OwnLine::level:
        break;
    }
    return spec.target ? &spec.target->points : nullptr;
}

void state_own(FittedSpec& spec, OwnLine line) {
    if (line == OwnLine::phase) {
        spec.phase_target.emplace();
    } else if (line == OwnLine::delay) {
        spec.delay_target.emplace();
    } else {
        spec.target.emplace();
    }
    *points_of(spec, line) = {{spec.from_hz, 0, {}, {}}, {spec.to_hz, 0, {}, {}}};
}

void leave_own(FittedSpec& spec, OwnLine line) {
    if (line == OwnLine::phase) {
        spec.phase_target.reset();
    } else if (line == OwnLine::delay) {
        spec.delay_target.reset();
    } else {
        spec.target.reset();
    }
}

OwnTarget::OwnTarget(Session& session, OwnLine line, QWidget* parent)
    : QWidget(parent), session_(session), line_(line), table_(make_table(line)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(table_);
    constexpr int highest = 130;
    setMaximumHeight(highest);
    connect(table_, &LimitTable::entered, this, &OwnTarget::take);
    connect(table_, &LimitTable::more_wanted, this, &OwnTarget::add_point);
    connect(table_, &LimitTable::fewer_wanted, this, &OwnTarget::remove_points);
}

void OwnTarget::show_spec(const FittedSpec& spec) {
    FittedSpec shown = spec;
    std::vector<std::pair<double, double>> points;
    if (const auto* own = points_of(shown, line_)) {
        for (const TargetPoint& point : *own) {
            points.emplace_back(point.frequency_hz, point.value);
        }
    }
    table_->show_points(points);
}

void OwnTarget::edit(const std::function<void(std::vector<TargetPoint>&)>& change) {
    edit_fitted(session_, tr("Change the target of %1"), [&](FittedSpec& spec) {
        if (auto* points = points_of(spec, line_)) {
            change(*points);
        }
    });
}

// In the middle of the last stretch.
void OwnTarget::add_point() {
    edit([](std::vector<TargetPoint>& points) {
        if (points.size() < 2) {
            points.push_back({1000, 0, {}, {}});
            return;
        }
        const TargetPoint a = points[points.size() - 2], b = points.back();
        points.insert(
            points.end() - 1,
            {std::sqrt(a.frequency_hz * b.frequency_hz), (a.value + b.value) / 2, {}, {}});
    });
}

void OwnTarget::remove_points(const std::set<int>& rows) {
    edit([&](std::vector<TargetPoint>& points) {
        std::vector<TargetPoint> kept;
        for (std::size_t i = 0; i < points.size(); ++i) {
            if (!rows.contains(static_cast<int>(i))) {
                kept.push_back(points[i]);
            }
        }
        points = std::move(kept);
    });
}

void OwnTarget::take(int row, int column, const QString& text) {
    const FittedSpec* spec = selected_fitted(session_);
    if (spec == nullptr) {
        return;
    }
    FittedSpec tried = *spec;
    auto* points = points_of(tried, line_);
    if (points == nullptr) {
        return;
    }
    const Dimension dimension = column == 0               ? Dimension::frequency
                                : line_ == OwnLine::level ? Dimension::level
                                                          : Dimension::plain;
    const auto number = number_from_cell(text, dimension, {});
    if (number) {
        auto& point = (*points)[static_cast<std::size_t>(row)];
        (column == 0 ? point.frequency_hz : point.value) = *number;
        std::ranges::stable_sort(*points, {}, &TargetPoint::frequency_hz);
    }
    const auto fine =
        number ? check_own(tried, line_) : Expected<void>(tl::unexpected(number.error()));
    if (!fine) {
        show_spec(*spec);
        emit problem_found(QString::fromStdString(to_text(fine.error())));
        return;
    }
    edit([&](std::vector<TargetPoint>& kept) { kept = *points; });
}

} // namespace syntonon
