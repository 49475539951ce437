// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/goal/weights_tab.h"

#include "app/model/weight_commands.h"
#include <QCheckBox>
#include <QHBoxLayout>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

namespace syntonon {
namespace {

// "Add …" and "Remove …" below a table.
template <class Add, class Remove>
QHBoxLayout* buttons(QWidget* owner, const QString& add_text, Add add, const QString& remove_text,
                     Remove remove) {
    auto* row = new QHBoxLayout;
    auto* add_button = new QPushButton(add_text);
    auto* remove_button = new QPushButton(remove_text);
    QObject::connect(add_button, &QPushButton::clicked, owner, add);
    QObject::connect(remove_button, &QPushButton::clicked, owner, remove);
    row->addWidget(add_button);
    row->addWidget(remove_button);
    row->addStretch(1);
    return row;
}

} // namespace

WeightsTab::WeightsTab(Session& session)
    : GoalTab(session), points_(new NumberTable({tr("frequency, Hz"), tr("weight")},
                                                tr("Points of the weight curve"))),
      ranges_(new NumberTable({tr("from, Hz"), tr("to, Hz"), tr("weight")}, tr("Weight ranges"))),
      lane_shown_(new QCheckBox(tr("Show weight and weighted error on their lane"))) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 4, 0, 0);
    column->addWidget(lane_shown_);
    column->addWidget(points_, 1);
    column->addLayout(buttons(
        this, tr("Add point"),
        [this] {
            const Goal* goal = stated();
            const double last =
                goal->weights.points.empty() ? 500 : goal->weights.points.back().frequency_hz;
            edit_goal(session_, tr("Add a weight point"),
                      [last](Goal& changed) { add_point(changed.weights.points, last * 2, 1); });
        },
        tr("Remove point"),
        [this] {
            edit_goal(session_, tr("Remove a weight point"), [this](Goal& goal) {
                auto& points = goal.weights.points;
                if (const int i = points_->currentRow();
                    i >= 0 && i < static_cast<int>(points.size())) {
                    points.erase(points.begin() + i);
                }
            });
        }));
    column->addWidget(ranges_, 1);
    column->addLayout(buttons(
        this, tr("Add range"),
        [this] {
            edit_goal(session_, tr("Add a weight range"), [](Goal& goal) {
                goal.weights.ranges.push_back({500, 2000, 2});
            });
        },
        tr("Remove range"),
        [this] {
            edit_goal(session_, tr("Remove a weight range"), [this](Goal& goal) {
                auto& ranges = goal.weights.ranges;
                if (const int i = ranges_->currentRow();
                    i >= 0 && i < static_cast<int>(ranges.size())) {
                    ranges.erase(ranges.begin() + i);
                }
            });
        }));
    connect(points_, &NumberTable::entered, this, &WeightsTab::take_point);
    connect(ranges_, &NumberTable::entered, this, &WeightsTab::take_range);
    connect(lane_shown_, &QCheckBox::toggled, this, &WeightsTab::lane_wanted);
}

void WeightsTab::refresh(const Goal* goal) {
    std::vector<QStringList> points, ranges;
    if (goal != nullptr) {
        for (const WeightPoint& p : goal->weights.points) {
            points.push_back({number_cell(p.frequency_hz), number_cell(p.weight)});
        }
        for (const WeightRange& r : goal->weights.ranges) {
            ranges.push_back({number_cell(r.from_hz), number_cell(r.to_hz), number_cell(r.weight)});
        }
    }
    points_->show_rows(points);
    ranges_->show_rows(ranges);
    setEnabled(goal != nullptr);
}

void WeightsTab::take_point(int row, int column, const QString& text) {
    const Goal* goal = stated();
    if (goal == nullptr || static_cast<std::size_t>(row) >= goal->weights.points.size()) {
        return;
    }
    Goal tried = *goal;
    WeightPoint& point = tried.weights.points[static_cast<std::size_t>(row)];
    double& number = column == 0 ? point.frequency_hz : point.weight;
    const auto value = number_from_cell(text, column == 0 ? Dimension::frequency : Dimension::plain,
                                        context(number));
    number = value.value_or(number);
    std::ranges::sort(tried.weights.points, {}, &WeightPoint::frequency_hz);
    take_if(value ? Expected<void>() : tl::unexpected(value.error()), tr("Change a weight point"),
            tried);
}

void WeightsTab::take_range(int row, int column, const QString& text) {
    const Goal* goal = stated();
    if (goal == nullptr || static_cast<std::size_t>(row) >= goal->weights.ranges.size()) {
        return;
    }
    Goal tried = *goal;
    WeightRange& range = tried.weights.ranges[static_cast<std::size_t>(row)];
    double& number = column == 0 ? range.from_hz : column == 1 ? range.to_hz : range.weight;
    const auto value = number_from_cell(text, column < 2 ? Dimension::frequency : Dimension::plain,
                                        context(number));
    number = value.value_or(number);
    take_if(value ? Expected<void>() : tl::unexpected(value.error()), tr("Change a weight range"),
            tried);
}

} // namespace syntonon
