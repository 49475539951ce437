// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/goal/target_tab.h"

#include "app/model/target_commands.h"
#include "app/panes/goal/house_curve_form.h"
#include "app/panes/goal/target_form.h"
#include "app/widgets/quantity_edit.h"
#include "core/study/study.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <vector>

namespace syntonon {
namespace {

enum { for_level, for_phase, for_delay };
QString between_text(const std::optional<Between>& after) {
    if (!after) {
        return QString();
    }
    return *after == Between::log_frequency      ? QObject::tr("log line")
           : *after == Between::linear_frequency ? QObject::tr("linear line")
                                                 : QObject::tr("gap");
}

} // namespace

TargetTab::TargetTab(Session& session)
    : GoalTab(session), quantity_(new QComboBox), form_(new QComboBox), after_(new QComboBox),
      followed_(new QComboBox), smoothing_(new QComboBox), anchor_(new QComboBox),
      forms_(new QStackedWidget), house_(new HouseCurveForm) {
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 4, 0, 0);
    grid->setVerticalSpacing(4);
    quantity_->addItems({tr("level"), tr("phase"), tr("group delay")});
    quantity_->setAccessibleName(tr("What the target is for"));
    form_->addItems({tr("by points"), tr("as a house curve"), tr("by a curve"),
                     tr("by another channel"), tr("by a take"), tr("by a stage")});
    form_->setAccessibleName(tr("How the target is stated"));
    auto* of = new QLabel(tr("Target"));
    grid->addWidget(of, 0, 0);
    grid->addWidget(quantity_, 0, 1);
    grid->addWidget(new QLabel(tr("stated")), 0, 2);
    grid->addWidget(form_, 0, 3);
    grid->setColumnStretch(3, 1);
    forms_->addWidget(build_points());
    forms_->addWidget(house_);
    forms_->addWidget(build_followed());
    grid->addWidget(forms_, 1, 0, 1, 4);
    grid->setRowStretch(1, 1);
    grid->addWidget(build_anchor(), 2, 0, 1, 4);
    for (QComboBox* box : {quantity_, form_, after_, followed_, smoothing_, anchor_}) {
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        box->setMinimumContentsLength(8);
    }
    anchor_->setMinimumContentsLength(20);
    connect(quantity_, &QComboBox::activated, this, [this] { refresh(stated()); });
    connect(form_, &QComboBox::activated, this, &TargetTab::choose_form);
    connect(house_, &HouseCurveForm::problem_found, this, &GoalTab::problem_found);
    connect(house_, &HouseCurveForm::keep_asked, this, [this] { keep_target_as_points(session_); });
    connect(house_, &HouseCurveForm::entered, this, [this](const HouseCurve& curve) {
        const Goal* goal = stated();
        if (goal != nullptr && goal->target.house) {
            Goal tried = *goal;
            tried.target.house = curve;
            take_if({}, tr("Change the house curve"), tried);
        }
    });
    connect(&session_.held(), &HeldPoints::changed, this, [this] {
        if (quantity_->currentIndex() == for_level) {
            points_->choose_rows(session_.held().points());
        }
    });
}

QWidget* TargetTab::build_points() {
    auto* page = new QWidget;
    auto* column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    points_ = new NumberTable({tr("frequency, Hz"), tr("level, dB"), tr("to the next")},
                              tr("Target points"));
    points_->fix_column(2);
    column->addWidget(points_, 1);
    auto* add = new QPushButton(tr("Add point"));
    auto* remove = new QPushButton(tr("Remove"));
    jump_ = new QPushButton(tr("Jump"));
    jump_->setToolTip(tr("A second level at the chosen point's frequency"));
    after_->addItems({tr("to the next…"), tr("as the whole line"), tr("log line"),
                      tr("linear line"), tr("gap: don’t care")});
    after_->setAccessibleName(tr("From the chosen points to the next"));
    auto* buttons = new QHBoxLayout;
    buttons->setSpacing(6);
    for (QPushButton* button : {add, jump_, remove}) {
        buttons->addWidget(button);
    }
    after_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    buttons->addWidget(after_, 1);
    column->addLayout(buttons);
    column->addLayout(build_changes());
    connect(points_, &NumberTable::entered, this, &TargetTab::take_point);
    connect(points_, &NumberTable::rows_chosen, this, [this] {
        if (quantity_->currentIndex() == for_level) {
            session_.held().hold(points_->chosen_rows());
        }
    });
    connect(add, &QPushButton::clicked, this, &TargetTab::add_point);
    connect(remove, &QPushButton::clicked, this, &TargetTab::remove_points);
    connect(jump_, &QPushButton::clicked, this, [this] {
        if (points_->currentRow() >= 0) {
            add_jump(session_, points_->currentRow());
        }
    });
    connect(after_, &QComboBox::activated, this, &TargetTab::choose_after);
    return page;
}

// What moves the chosen points together.
QHBoxLayout* TargetTab::build_changes() {
    shift_ = new QuantityEdit(Dimension::level, "dB");
    scale_ = new QuantityEdit(Dimension::plain, "");
    shift_->setAccessibleName(tr("Shift the chosen points by"));
    scale_->setAccessibleName(tr("Scale the chosen points by"));
    shift_->show_value(0);
    scale_->show_value(1);
    auto* changes = new QHBoxLayout;
    changes->addWidget(new QLabel(tr("Shift chosen by")));
    changes->addWidget(shift_, 1);
    changes->addWidget(new QLabel(tr("scale by")));
    changes->addWidget(scale_, 1);
    connect(shift_, &QuantityEdit::value_entered, this, [this](std::optional<double> by) {
        move_chosen(1, by.value_or(0), tr("Shift target points"));
        shift_->show_value(0);
    });
    connect(scale_, &QuantityEdit::value_entered, this, [this](std::optional<double> factor) {
        if (quantity_->currentIndex() == for_level) {
            scale_target_points(session_, points_->chosen_rows(), factor.value_or(1));
        }
        scale_->show_value(1);
    });
    for (QuantityEdit* edit : {shift_, scale_}) {
        connect(edit, &QuantityEdit::problem_found, this, &GoalTab::problem_found);
    }
    return changes;
}

QWidget* TargetTab::build_followed() {
    auto* page = new QWidget;
    auto* grid = new QGridLayout(page);
    grid->setContentsMargins(0, 0, 0, 0);
    for (const auto& [text, octaves] : {std::pair{tr("not smoothed"), 0.0},
                                        {tr("1/24 octave"), 1 / 24.0},
                                        {tr("1/12 octave"), 1 / 12.0},
                                        {tr("1/6 octave"), 1 / 6.0},
                                        {tr("1/3 octave"), 1 / 3.0},
                                        {tr("1 octave"), 1.0}}) {
        smoothing_->addItem(text, octaves);
    }
    followed_->setAccessibleName(tr("What the target follows"));
    smoothing_->setAccessibleName(tr("Smoothing"));
    auto* keep = new QPushButton(tr("Keep as points"));
    grid->addWidget(new QLabel(tr("Follows")), 0, 0);
    grid->addWidget(followed_, 0, 1);
    grid->addWidget(new QLabel(tr("Smoothing")), 1, 0);
    grid->addWidget(smoothing_, 1, 1);
    grid->addWidget(keep, 2, 1, Qt::AlignLeft);
    grid->setColumnStretch(1, 1);
    grid->setRowStretch(3, 1);
    const auto choose = [this] {
        const TargetForm form = static_cast<TargetForm>(form_->currentIndex());
        edit_goal(session_, tr("Choose what the target follows"), [&](Goal& goal) {
            goal.target.source = source_from(form, followed_->currentData().toString(),
                                             smoothing_->currentData().toDouble());
        });
    };
    connect(followed_, &QComboBox::activated, this, choose);
    connect(smoothing_, &QComboBox::activated, this, choose);
    connect(keep, &QPushButton::clicked, this, [this] { keep_target_as_points(session_); });
    return page;
}

QWidget* TargetTab::build_anchor() {
    anchor_row_ = new QWidget;
    anchor_range_ = new QWidget;
    auto* rows = new QVBoxLayout(anchor_row_);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(2);
    auto* row = new QHBoxLayout;
    rows->addLayout(row);
    anchor_->addItems({tr("a fixed level"), tr("the measured average, and"),
                       tr("the lowest of all measured, and"),
                       tr("the average of all channels, and")});
    anchor_->setAccessibleName(tr("Where the target’s 0 dB lies"));
    anchor_->setToolTip(tr("Followed by every channel that shares the goal"));
    anchor_offset_ = new QuantityEdit(Dimension::level, "dB");
    anchor_from_ = new QuantityEdit(Dimension::frequency, "Hz");
    anchor_to_ = new QuantityEdit(Dimension::frequency, "Hz");
    anchor_offset_->setAccessibleName(tr("Level"));
    row->addWidget(new QLabel(tr("Its 0 dB is at")));
    row->addWidget(anchor_);
    row->addWidget(anchor_offset_);
    auto* range = new QHBoxLayout(anchor_range_);
    range->setContentsMargins(0, 0, 0, 0);
    range->addWidget(new QLabel(tr("measured between")));
    range->addWidget(anchor_from_);
    range->addWidget(new QLabel(tr("and")));
    range->addWidget(anchor_to_);
    range->addStretch(1);
    row->addStretch(1);
    rows->addWidget(anchor_range_);
    const auto change = [this](auto apply) {
        if (const Goal* goal = stated()) {
            Goal tried = *goal;
            apply(tried.target.anchor);
            take_if({}, tr("Change the level anchor"), tried);
        }
    };
    connect(anchor_, &QComboBox::activated, this, [change](int index) {
        change([index](LevelAnchor& a) { a.kind = static_cast<LevelAnchor::Kind>(index); });
    });
    for (const auto& [edit, member] : {std::pair{anchor_offset_, &LevelAnchor::offset_db},
                                       {anchor_from_, &LevelAnchor::from_hz},
                                       {anchor_to_, &LevelAnchor::to_hz}}) {
        connect(edit, &QuantityEdit::problem_found, this, &GoalTab::problem_found);
        connect(edit, &QuantityEdit::value_entered, this,
                [change, member = member](std::optional<double> value) {
                    change([&](LevelAnchor& a) { a.*member = value.value_or(a.*member); });
                });
    }
    return anchor_row_;
}

const TargetLine* TargetTab::line_of(const Goal& goal) const {
    const auto* chosen =
        quantity_->currentIndex() == for_phase ? &goal.phase_target : &goal.delay_target;
    if (quantity_->currentIndex() == for_level) {
        return &goal.target;
    }
    return *chosen ? &**chosen : nullptr;
}

TargetLine& TargetTab::line_of(Goal& goal) const {
    if (quantity_->currentIndex() == for_level) {
        return goal.target;
    }
    auto& chosen = quantity_->currentIndex() == for_phase ? goal.phase_target : goal.delay_target;
    return chosen ? *chosen : chosen.emplace();
}

void TargetTab::refresh(const Goal* goal) {
    setEnabled(goal != nullptr);
    const bool of_level = quantity_->currentIndex() == for_level;
    const TargetForm form = goal != nullptr && of_level ? form_of(goal->target) : by_points;
    form_->setEnabled(of_level);
    form_->setCurrentIndex(form);
    forms_->setCurrentIndex(std::min<int>(form, by_curve));
    anchor_row_->setVisible(of_level);
    for (QuantityEdit* edit : findChildren<QuantityEdit*>()) {
        edit->set_sample_rate(session_.study().sample_rate_hz);
    }
    show_points(goal);
    if (goal != nullptr && goal->target.house) {
        house_->show_curve(*goal->target.house);
    }
    show_followed(goal);
    show_anchor(goal);
}

void TargetTab::show_points(const Goal* goal) {
    const int quantity = quantity_->currentIndex();
    const bool ratio = level_text_ == LevelText::ratio;
    const std::array units = {ratio ? tr("level, ratio") : tr("level, dB"), tr("phase, °"),
                              tr("delay, ms")};
    points_->horizontalHeaderItem(1)->setText(units.at(static_cast<std::size_t>(quantity)));
    jump_->setEnabled(quantity == for_level);
    scale_->setEnabled(quantity == for_level);
    shift_->set_unit(quantity == for_level   ? QStringLiteral("dB")
                     : quantity == for_phase ? QStringLiteral("°")
                                             : QStringLiteral("ms"));
    shift_->show_value(0);
    std::vector<QStringList> rows;
    if (const TargetLine* line = goal != nullptr ? line_of(*goal) : nullptr) {
        for (const TargetPoint& point : line->points) {
            rows.push_back({number_cell(point.frequency_hz),
                            quantity == for_level ? level_text(point.value, level_text_)
                                                  : number_cell(point.value),
                            between_text(point.after)});
        }
    }
    points_->show_rows(rows);
    if (quantity == for_level) {
        points_->choose_rows(session_.held().points());
    }
}

void TargetTab::show_followed(const Goal* goal) {
    if (goal == nullptr || !goal->target.source) {
        return;
    }
    const TargetSource& source = *goal->target.source;
    followed_->clear();
    for (const auto& [text, name] : followable(session_.study(), form_of(goal->target))) {
        followed_->addItem(text, name);
    }
    const QString chosen = name_of(source);
    int at = followed_->findData(chosen);
    if (at < 0) { // a name of something that is not there stays visible
        followed_->addItem(tr("%1 (missing)").arg(chosen), chosen);
        at = followed_->count() - 1;
    }
    followed_->setCurrentIndex(at);
    int nearest = 0;
    for (int i = 0; i < smoothing_->count(); ++i) {
        const auto distance = [&](int k) {
            return std::abs(smoothing_->itemData(k).toDouble() - source.smoothing_oct);
        };
        nearest = distance(i) < distance(nearest) ? i : nearest;
    }
    smoothing_->setCurrentIndex(nearest);
}

void TargetTab::show_anchor(const Goal* goal) {
    if (goal == nullptr) {
        return;
    }
    const LevelAnchor& anchor = goal->target.anchor;
    anchor_->setCurrentIndex(static_cast<int>(anchor.kind));
    anchor_offset_->show_value(anchor.offset_db);
    anchor_from_->show_value(anchor.from_hz);
    anchor_to_->show_value(anchor.to_hz);
    anchor_range_->setVisible(anchor.kind != LevelAnchor::Kind::fixed);
}

void TargetTab::take_point(int row, int column, const QString& text) {
    const Goal* goal = stated();
    const TargetLine* line = goal != nullptr ? line_of(*goal) : nullptr;
    if (line == nullptr || static_cast<std::size_t>(row) >= line->points.size()) {
        return;
    }
    Goal tried = *goal;
    auto& points = line_of(tried).points;
    TargetPoint& point = points[static_cast<std::size_t>(row)];
    double& number = column == 0 ? point.frequency_hz : point.value;
    const int quantity = quantity_->currentIndex();
    Expected<double> value = number;
    if (column == 0) {
        value = number_from_cell(text, Dimension::frequency, context(number));
    } else if (quantity == for_level) {
        value = level_from_text(text, level_text_, context(number))
                    .and_then([](std::optional<double> db) -> Expected<double> {
                        return db ? Expected<double>(*db)
                                  : refuse("", "a target has no open side",
                                           "choose a gap to the next point instead");
                    });
    } else {
        // Delays are kept in ms; a time with its own unit comes in seconds.
        const bool bare = quantity == for_delay && !text.isEmpty() && text.back().isDigit();
        value = number_from_cell(bare ? text + " ms" : text,
                                 quantity == for_phase ? Dimension::angle : Dimension::time,
                                 context(quantity == for_delay ? number * 1e-3 : number));
        if (quantity == for_delay && value) {
            value = *value * 1e3;
        }
    }
    number = value.value_or(number);
    std::ranges::stable_sort(points, {}, &TargetPoint::frequency_hz);
    take_if(value ? Expected<void>() : tl::unexpected(value.error()), tr("Change a target point"),
            tried);
}

void TargetTab::choose_form(int index) {
    const Goal* goal = stated();
    const TargetForm form = static_cast<TargetForm>(index);
    if (goal == nullptr || form == form_of(goal->target)) {
        return;
    }
    if (form == by_points) {
        keep_target_as_points(session_);
        return;
    }
    const auto choices = followable(session_.study(), form);
    if (form != by_house && choices.empty()) {
        refresh(goal);
        emit problem_found(form == by_curve  ? tr("The study has no curve: import one first.")
                           : form == by_take ? tr("No channel has a take: freeze one first.")
                                             : tr("No channel has a stage: add one first."));
        return;
    }
    edit_goal(session_, tr("Change how the target is stated"), [&](Goal& g) {
        static_cast<TargetLine&>(g.target) = TargetLine{};
        g.target.house.reset();
        g.target.source.reset();
        if (form == by_house) {
            g.target.house.emplace();
        } else {
            // Another channel than one's own, if there is one.
            const QString own = QString::fromStdString(session_.channel()->id);
            const auto other = std::ranges::find_if(
                choices, [&](const auto& choice) { return choice.second != own; });
            g.target.source =
                source_from(form, (other != choices.end() ? *other : choices.front()).second,
                            form == by_curve ? 1 / 3.0 : 0);
        }
    });
}

void TargetTab::choose_after(int index) {
    after_->setCurrentIndex(0);
    const std::set<int> chosen = points_->chosen_rows();
    if (index == 0 || chosen.empty()) {
        return;
    }
    edit_goal(session_, tr("Change the line after target points"), [&](Goal& goal) {
        for (const int row : chosen) {
            auto& after = line_of(goal).points.at(static_cast<std::size_t>(row)).after;
            after = index == 1 ? std::nullopt : std::optional(static_cast<Between>(index - 2));
        }
    });
}

void TargetTab::add_point() {
    const Goal* goal = stated();
    const TargetLine* line = line_of(*goal);
    // In the middle of the widest stretch, so that it never falls onto another point.
    double hz = 1000, widest = 1, value = 0;
    for (std::size_t i = 1; line != nullptr && i < line->points.size(); ++i) {
        const TargetPoint &a = line->points[i - 1], &b = line->points[i];
        if (b.frequency_hz / a.frequency_hz > widest) {
            widest = b.frequency_hz / a.frequency_hz;
            hz = std::round(std::sqrt(a.frequency_hz * b.frequency_hz));
            value = (a.value + b.value) / 2;
        }
    }
    if (quantity_->currentIndex() == for_level) {
        add_target_point(session_, hz,
                         line->points.empty() ? target_anchor_db(session_)
                                              : target_level_at(session_, hz));
        return;
    }
    edit_goal(session_, tr("Add a target point"), [&](Goal& g) {
        auto& points = line_of(g).points;
        points.insert(std::ranges::upper_bound(points, hz, {}, &TargetPoint::frequency_hz),
                      TargetPoint{hz, value, {}});
    });
}

void TargetTab::remove_points() {
    const std::set<int> chosen = points_->chosen_rows();
    if (quantity_->currentIndex() == for_level) {
        session_.held().hold({});
        remove_target_points(session_, chosen);
        return;
    }
    edit_goal(session_, tr("Remove target points"), [&](Goal& goal) {
        auto& points = line_of(goal).points;
        const std::vector<int> from_last(chosen.rbegin(), chosen.rend());
        for (const int i : from_last) {
            points.erase(points.begin() + i);
        }
        if (points.empty()) { // no target of this kind any more
            (quantity_->currentIndex() == for_phase ? goal.phase_target : goal.delay_target)
                .reset();
        }
    });
}

void TargetTab::move_chosen(double ratio, double by, const QString& name) {
    const std::set<int> chosen = points_->chosen_rows();
    if (!chosen.empty()) {
        edit_goal(session_, name,
                  [&](Goal& goal) { move_points(line_of(goal), chosen, ratio, by); });
    }
}

} // namespace syntonon
