// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/goal/corridor_tab.h"

#include "app/model/corridor_commands.h"
#include "core/base/units.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace syntonon {
namespace {

constexpr int from_column = 0, to_column = 1, lower_column = 2, against_column = 4;

QStringList cells_of(const CorridorRange& range, LevelText form) {
    const auto lower = range.below_db ? std::optional(0 - *range.below_db) : std::nullopt;
    return {number_cell(range.from_hz), number_cell(range.to_hz), level_text(lower, form),
            level_text(range.above_db, form),
            range.absolute ? QObject::tr("absolute") : QObject::tr("target")};
}

} // namespace

CorridorTab::CorridorTab(Session& session)
    : GoalTab(session), table_(new NumberTable(
                            {tr("from, Hz"), tr("to, Hz"), tr("lower"), tr("upper"), tr("against")},
                            tr("Corridor ranges"))),
      add_(new QPushButton(tr("Add range"))), remove_(new QPushButton(tr("Remove range"))),
      absolute_(new QPushButton(tr("Target or absolute"))) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 4, 0, 0);
    auto* hint = new QLabel(tr("Lower and upper edge in dB, against the target or absolute; “open” "
                               "leaves a side free."));
    hint->setWordWrap(true);
    hint->setForegroundRole(QPalette::PlaceholderText);
    column->addWidget(hint);
    column->addWidget(table_, 1);
    auto* row = new QHBoxLayout;
    for (QPushButton* button : {add_, remove_, absolute_}) {
        row->addWidget(button);
    }
    row->addStretch(1);
    column->addLayout(row);
    table_->fix_column(against_column);
    connect(table_, &NumberTable::entered, this, &CorridorTab::take);
    connect(add_, &QPushButton::clicked, this, &CorridorTab::add);
    connect(remove_, &QPushButton::clicked, this,
            [this] { remove_corridor_range(session_, table_->currentRow()); });
    connect(absolute_, &QPushButton::clicked, this, [this] {
        const int row_index = table_->currentRow();
        if (row_index >= 0) {
            edit_goal(session_, tr("Change what a corridor range is against"), [&](Goal& goal) {
                auto& range = goal.corridor.at(static_cast<std::size_t>(row_index));
                range.absolute = !range.absolute;
            });
        }
    });
}

void CorridorTab::refresh(const Goal* goal) {
    std::vector<QStringList> rows;
    if (goal != nullptr) {
        for (const CorridorRange& range : goal->corridor) {
            rows.push_back(cells_of(range, level_text_));
        }
    }
    table_->show_rows(rows);
    setEnabled(goal != nullptr);
}

void CorridorTab::add() {
    const Goal* goal = stated();
    const double half = nyquist_hz(session_.study().sample_rate_hz);
    const double from = goal->corridor.empty() ? 40 : goal->corridor.back().to_hz;
    add_corridor_range(session_, std::min(from, half / 2), std::min(from * 4, half));
}

void CorridorTab::take(int row, int column, const QString& text) {
    const Goal* goal = stated();
    if (goal == nullptr || static_cast<std::size_t>(row) >= goal->corridor.size()) {
        return;
    }
    Goal tried = *goal;
    CorridorRange& range = tried.corridor[static_cast<std::size_t>(row)];
    Expected<void> ok;
    if (column == from_column || column == to_column) {
        double& hz = column == from_column ? range.from_hz : range.to_hz;
        const auto value = number_from_cell(text, Dimension::frequency, context(hz));
        ok = value ? Expected<void>() : tl::unexpected(value.error());
        hz = value.value_or(hz);
    } else {
        const bool lower = column == lower_column;
        std::optional<double>& side = lower ? range.below_db : range.above_db;
        const double now = lower ? 0 - side.value_or(0) : side.value_or(0);
        const auto value = level_from_text(text, level_text_, context(now));
        ok = value ? Expected<void>() : tl::unexpected(value.error());
        if (value) {
            side = *value ? std::optional(lower ? 0 - **value : **value) : std::nullopt;
        }
    }
    take_if(ok, tr("Change a corridor range"), tried);
}

} // namespace syntonon
