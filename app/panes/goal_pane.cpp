// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/goal_pane.h"

#include "app/model/goal_commands.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"
#include "core/base/quantity.h"
#include "core/base/units.h"

#include <QComboBox>
#include <QGridLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>

namespace syntonon {
namespace {

QTableWidget* make_table(const QStringList& titles, const QString& name) {
    auto* table = new QTableWidget;
    table->setColumnCount(static_cast<int>(titles.size()));
    table->setHorizontalHeaderLabels(titles);
    table->verticalHeader()->hide();
    table->verticalHeader()->setDefaultSectionSize(22);
    table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table->setSelectionMode(QAbstractItemView::SingleSelection);
    table->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed
                           | QAbstractItemView::AnyKeyPressed);
    table->setAccessibleName(name);
    table->setTabKeyNavigation(false);
    return table;
}

void put(QTableWidget* table, int row, int column, const QString& text) {
    if (table->item(row, column) == nullptr) {
        table->setItem(row, column, new QTableWidgetItem);
        table->item(row, column)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    }
    if (table->item(row, column)->text() != text) {
        table->item(row, column)->setText(text);
    }
}

QString number(double value) {
    return QString::fromStdString(text_with_digits(value, 6));
}

QString tolerance(const std::optional<double>& value) {
    return value ? number(*value) : QObject::tr("open");
}

} // namespace

GoalPane::GoalPane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), measured_(new QComboBox), goal_(new QComboBox),
      points_(make_table({tr("frequency, Hz"), tr("level, dB")}, tr("Target points"))),
      ranges_(make_table({tr("from, Hz"), tr("to, Hz"), tr("above, dB"), tr("below, dB")},
                         tr("Corridor ranges"))),
      add_point_(new QPushButton(tr("Add point"))),
      remove_point_(new QPushButton(tr("Remove point"))),
      add_range_(new QPushButton(tr("Add range"))),
      remove_range_(new QPushButton(tr("Remove range"))),
      new_goal_(new QPushButton(tr("New goal"))), problem_(new QLabel) {
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(16, 8, 16, 8);
    grid->setVerticalSpacing(4);
    grid->setColumnStretch(1, 1);
    grid->addWidget(new QLabel(tr("Measured")), 0, 0);
    grid->addWidget(measured_, 0, 1);
    auto* import_button = new QPushButton(tr("Import…"));
    grid->addWidget(import_button, 0, 2);
    grid->addWidget(new QLabel(tr("Goal")), 1, 0);
    grid->addWidget(goal_, 1, 1);
    grid->addWidget(new_goal_, 1, 2);
    grid->addWidget(new QLabel(tr("Target points")), 2, 0, 1, 3);
    grid->addWidget(points_, 3, 0, 1, 3);
    grid->setRowStretch(3, 5);
    grid->setRowStretch(6, 3);
    auto* point_buttons = new QHBoxLayout;
    point_buttons->setSpacing(8);
    point_buttons->addWidget(add_point_);
    point_buttons->addWidget(remove_point_);
    point_buttons->addStretch(1);
    grid->addLayout(point_buttons, 4, 0, 1, 3);
    grid->addWidget(new QLabel(tr("Corridor, relative to the target")), 5, 0, 1, 3);
    grid->addWidget(ranges_, 6, 0, 1, 3);
    auto* range_buttons = new QHBoxLayout;
    range_buttons->setSpacing(8);
    range_buttons->addWidget(add_range_);
    range_buttons->addWidget(remove_range_);
    range_buttons->addStretch(1);
    grid->addLayout(range_buttons, 7, 0, 1, 3);
    problem_->setWordWrap(true);
    problem_->setObjectName("goal_problem");
    problem_->hide();
    grid->addWidget(problem_, 8, 0, 1, 3);
    measured_->setAccessibleName(tr("Measured curve"));
    goal_->setAccessibleName(tr("Goal"));
    ranges_->setToolTip(
        tr("Type “open” for a side without a limit. The handles on the lane do the same."));

    connect(import_button, &QPushButton::clicked, this, &GoalPane::import_asked_for);
    connect(measured_, &QComboBox::activated, this,
            [this](int i) { choose_measured(session_, measured_->itemData(i).toString()); });
    connect(goal_, &QComboBox::activated, this,
            [this](int i) { choose_goal(session_, goal_->itemData(i).toString()); });
    connect(new_goal_, &QPushButton::clicked, this, [this] { add_goal(session_); });
    connect(points_, &QTableWidget::cellChanged, this, &GoalPane::take_point);
    connect(ranges_, &QTableWidget::cellChanged, this, &GoalPane::take_range);
    connect(add_point_, &QPushButton::clicked, this, [this] {
        // In the middle of the widest gap, so that it never falls onto another point.
        const Goal* goal = current_goal(session_);
        double hz = 1000;
        double widest = 0;
        for (std::size_t i = 1; i < goal->target.points.size(); ++i) {
            const double a = goal->target.points[i - 1].frequency_hz,
                         b = goal->target.points[i].frequency_hz;
            if (b / a > widest) {
                widest = b / a;
                hz = std::sqrt(a * b);
            }
        }
        add_target_point(session_, std::round(hz), level_db_at(goal->target, hz));
    });
    connect(remove_point_, &QPushButton::clicked, this,
            [this] { remove_target_point(session_, points_->currentRow()); });
    connect(add_range_, &QPushButton::clicked, this, [this] {
        const Goal* goal = current_goal(session_);
        const double half = nyquist_hz(session_.study().sample_rate_hz);
        const double from = goal->corridor.empty() ? 40 : goal->corridor.back().to_hz;
        add_corridor_range(session_, std::min(from, half / 2), std::min(from * 4, half));
    });
    connect(remove_range_, &QPushButton::clicked, this,
            [this] { remove_corridor_range(session_, ranges_->currentRow()); });
    connect(&session_, &Session::study_changed, this, &GoalPane::refresh);
    connect(&session_, &Session::selection_changed, this, &GoalPane::refresh);
    refresh();
}

void GoalPane::fill_choices() {
    const Channel* channel = session_.channel();
    const auto fill = [&](QComboBox* box, const auto& items, const std::string& chosen,
                          const QString& none) {
        QStringList wanted{QString()};
        for (const auto& item : items) {
            wanted << QString::fromStdString(item->id);
        }
        box->clear();
        box->addItem(none, QString());
        for (const auto& item : items) {
            box->addItem(QString::fromStdString(item->name), QString::fromStdString(item->id));
        }
        int at = box->findData(QString::fromStdString(chosen));
        if (at < 0) { // a name of something that is not there stays visible
            box->addItem(tr("%1 (missing)").arg(QString::fromStdString(chosen)),
                         QString::fromStdString(chosen));
            at = box->count() - 1;
        }
        box->setCurrentIndex(at);
    };
    fill(measured_, session_.study().curves, channel != nullptr ? channel->measured : "",
         tr("none: the chain alone"));
    fill(goal_, session_.study().goals, channel != nullptr ? channel->goal : "", tr("none"));
}

void GoalPane::fill_tables(const Goal* goal) {
    points_->setRowCount(goal != nullptr ? static_cast<int>(goal->target.points.size()) : 0);
    ranges_->setRowCount(goal != nullptr ? static_cast<int>(goal->corridor.size()) : 0);
    for (int i = 0; i < points_->rowCount(); ++i) {
        const TargetPoint& p = goal->target.points[static_cast<std::size_t>(i)];
        put(points_, i, 0, number(p.frequency_hz));
        put(points_, i, 1, number(p.magnitude_db));
    }
    for (int i = 0; i < ranges_->rowCount(); ++i) {
        const CorridorRange& r = goal->corridor[static_cast<std::size_t>(i)];
        put(ranges_, i, 0, number(r.from_hz));
        put(ranges_, i, 1, number(r.to_hz));
        put(ranges_, i, 2, tolerance(r.above_db));
        put(ranges_, i, 3, tolerance(r.below_db));
    }
}

void GoalPane::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void GoalPane::refresh() {
    if (!isVisible()) {
        return; // filled when it is looked at
    }
    filling_ = true;
    fill_choices();
    const Goal* goal = current_goal(session_);
    fill_tables(goal);
    for (QWidget* needs_goal : std::initializer_list<QWidget*>{
             points_, ranges_, add_point_, remove_point_, add_range_, remove_range_}) {
        needs_goal->setEnabled(goal != nullptr);
    }
    if (goal != nullptr) {
        const auto ok = check(*goal);
        say(ok ? QString() : QString::fromStdString(to_text(ok.error())));
    } else {
        say({});
    }
    filling_ = false;
}

void GoalPane::say(const QString& problem) {
    problem_->setText(problem);
    problem_->setVisible(!problem.isEmpty());
    QPalette colours = palette();
    colours.setColor(QPalette::WindowText, theme().not_met);
    problem_->setPalette(colours);
}

void GoalPane::take_point(int row, int column) {
    const Goal* goal = current_goal(session_);
    if (filling_ || goal == nullptr) {
        return;
    }
    const TargetPoint old = goal->target.points[static_cast<std::size_t>(row)];
    const auto value = parse_quantity(
        points_->item(row, column)->text().toStdString(),
        column == 0 ? Dimension::frequency : Dimension::level,
        {session_.study().sample_rate_hz, column == 0 ? old.frequency_hz : old.magnitude_db});
    Goal tried = *goal;
    if (value) {
        TargetPoint& point = tried.target.points[static_cast<std::size_t>(row)];
        (column == 0 ? point.frequency_hz : point.magnitude_db) = *value;
        std::ranges::sort(tried.target.points, {}, &TargetPoint::frequency_hz);
    }
    take_if(value ? check(tried) : tl::unexpected(value.error()), tr("Change a target point"),
            tried);
}

void GoalPane::take_if(const Expected<void>& ok, const QString& name, const Goal& tried) {
    if (!ok) {
        refresh();
        say(QString::fromStdString(to_text(ok.error())));
        return;
    }
    // Later than the table's signal: it is filled anew, and its editor is still open.
    QMetaObject::invokeMethod(
        this, [this, name, tried] { edit_goal(session_, name, [&](Goal& g) { g = tried; }); },
        Qt::QueuedConnection);
}

void GoalPane::take_range(int row, int column) {
    const Goal* goal = current_goal(session_);
    if (filling_ || goal == nullptr) {
        return;
    }
    Goal tried = *goal;
    CorridorRange& range = tried.corridor[static_cast<std::size_t>(row)];
    const std::string typed = ranges_->item(row, column)->text().toStdString();
    Expected<void> ok;
    if (column >= 2 && lower_case(trimmed(typed)) == "open") {
        (column == 2 ? range.above_db : range.below_db).reset();
    } else {
        const double old = column == 0 ? range.from_hz
                           : column == 1
                               ? range.to_hz
                               : (column == 2 ? range.above_db : range.below_db).value_or(0);
        const auto value =
            parse_quantity(typed, column < 2 ? Dimension::frequency : Dimension::level,
                           {session_.study().sample_rate_hz, old});
        if (!value) {
            ok = tl::unexpected(value.error());
        } else if (column == 0) {
            range.from_hz = *value;
        } else if (column == 1) {
            range.to_hz = *value;
        } else {
            (column == 2 ? range.above_db : range.below_db) = *value;
        }
    }
    take_if(ok ? check(tried) : ok, tr("Change a corridor range"), tried);
}

} // namespace syntonon
