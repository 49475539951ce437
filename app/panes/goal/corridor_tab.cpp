// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/goal/corridor_tab.h"

#include "app/model/corridor_commands.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QRegularExpression>
#include <QVBoxLayout>

namespace syntonon {
namespace {

constexpr int from_column = 0, to_column = 1, lower_column = 2, against_column = 4;

std::optional<double> turned(const std::optional<double>& db) {
    return db ? std::optional(0 - *db) : std::nullopt;
}

// "−40", or "−40 to −64" of a side that slopes.
QString side_text(const std::optional<double>& db, const std::optional<double>& to_db,
                  LevelText form) {
    const QString from = level_text(db, form);
    return db && to_db ? QObject::tr("%1 to %2").arg(from, level_text(to_db, form)) : from;
}

QStringList cells_of(const CorridorRange& range, LevelText form) {
    return {number_cell(range.from_hz), number_cell(range.to_hz),
            side_text(turned(range.below_db), turned(range.below_to_db), form),
            side_text(range.above_db, range.above_to_db, form),
            range.absolute ? QObject::tr("absolute") : QObject::tr("target")};
}

// What is typed for a side: one level, or two of a side that slopes.
struct TypedSide {
    std::optional<double> db, to_db;
};
Expected<TypedSide> side_from_text(const QString& text, LevelText form,
                                   const QuantityContext& context) {
    static const QRegularExpression between(QStringLiteral("\\s+to\\s+|\\.\\.+|…"));
    const QStringList levels = text.split(between);
    if (levels.size() > 2) {
        return refuse("", QObject::tr("“%1” are more than two levels").arg(text).toStdString(),
                      "give one level, or where the edge begins and ends: -40 to -64");
    }
    TypedSide side;
    for (int i = 0; i < levels.size(); ++i) {
        const auto level = level_from_text(levels[i], form, context);
        if (!level) {
            return tl::unexpected(level.error());
        }
        (i == 0 ? side.db : side.to_db) = *level;
    }
    if (levels.size() == 2 && !(side.db && side.to_db)) {
        return refuse("", "an edge does not slope to or from where it is open",
                      "give two levels, or part the range where the edge ends");
    }
    return side;
}

} // namespace

CorridorTab::CorridorTab(Session& session)
    : GoalTab(session), table_(new NumberTable(
                            {tr("from, Hz"), tr("to, Hz"), tr("lower"), tr("upper"), tr("against")},
                            tr("Corridor ranges"))),
      add_(new QPushButton(tr("Add range"))), stopband_(new QPushButton(tr("Add stopband"))),
      remove_(new QPushButton(tr("Remove"))), absolute_(new QPushButton(tr("Absolute"))) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 4, 0, 0);
    auto* hint = new QLabel(tr("Lower and upper edge in dB, against the target or absolute; “open” "
                               "leaves a side free, “-40 to -64” slopes."));
    hint->setWordWrap(true);
    hint->setForegroundRole(QPalette::PlaceholderText);
    auto* head = new QHBoxLayout;
    head->addWidget(hint, 1);
    head->addWidget(absolute_, 0, Qt::AlignBottom);
    column->addLayout(head);
    column->addWidget(table_, 1);
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    for (QPushButton* button : {add_, stopband_, remove_}) {
        row->addWidget(button);
    }
    stopband_->setToolTip(tr("A range above the passband that has an upper edge alone"));
    row->addStretch(1);
    column->addLayout(row);
    table_->fix_column(against_column);
    connect(table_, &NumberTable::entered, this, &CorridorTab::take);
    connect(add_, &QPushButton::clicked, this, [this] { add(add_corridor_range); });
    connect(stopband_, &QPushButton::clicked, this, [this] { add(add_stopband); });
    connect(remove_, &QPushButton::clicked, this,
            [this] { remove_corridor_range(session_, table_->currentRow()); });
    setTabOrder(table_, absolute_); // it is about the row that the table has in hand
    setTabOrder(absolute_, add_);
    absolute_->setCheckable(true);
    absolute_->setToolTip(tr("The range in hand stands by itself, whatever the target"));
    connect(absolute_, &QPushButton::clicked, this, [this](bool absolute) {
        if (range_in_hand() != nullptr) {
            edit_goal(session_, tr("Change what a corridor range is against"), [&](Goal& goal) {
                goal.corridor[static_cast<std::size_t>(table_->currentRow())].absolute = absolute;
            });
        }
    });
    connect(table_, &QTableWidget::currentCellChanged, this, &CorridorTab::follow_range);
}

const CorridorRange* CorridorTab::range_in_hand() {
    const Goal* goal = stated();
    const auto row = static_cast<std::size_t>(std::max(table_->currentRow(), 0));
    return goal != nullptr && table_->currentRow() >= 0 && row < goal->corridor.size()
               ? &goal->corridor[row]
               : nullptr;
}

void CorridorTab::follow_range() {
    const CorridorRange* range = range_in_hand();
    absolute_->setEnabled(range != nullptr);
    absolute_->setChecked(range != nullptr && range->absolute);
    remove_->setEnabled(range != nullptr);
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
    follow_range();
}

// The new row is in hand: what is typed next goes there.
void CorridorTab::add(void (*command)(Session&)) {
    command(session_);
    table_->setCurrentCell(table_->rowCount() - 1, from_column);
    table_->setFocus(Qt::OtherFocusReason);
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
        const auto typed = side_from_text(text, level_text_, context(now));
        ok = typed ? Expected<void>() : tl::unexpected(typed.error());
        if (typed) {
            side = lower ? turned(typed->db) : typed->db;
            (lower ? range.below_to_db : range.above_to_db) =
                lower ? turned(typed->to_db) : typed->to_db;
        }
    }
    take_if(ok, tr("Change a corridor range"), tried);
}

} // namespace syntonon
