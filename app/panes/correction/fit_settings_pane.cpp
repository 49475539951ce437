// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/correction/fit_settings_pane.h"

#include "app/model/correction_commands.h"
#include "app/panes/correction/limit_table.h"
#include "app/panes/goal/number_table.h"
#include "app/widgets/quantity_edit.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/study/kinds.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

const NumberField<CorrectionSpec>& field_of(std::string_view key) {
    return *std::ranges::find(fields_of(CorrectionSpec()), key, &NumberField<CorrectionSpec>::key);
}

SectionsCorrection* sections_of_spec(CorrectionSpec& spec) {
    return std::get_if<SectionsCorrection>(&spec.method);
}

// The points of a limit, where their value stands, and what stood without any.
template <class Call>
void with_limits(CorrectionSpec& spec, FitSettingsPane::Limited what, Call call) {
    auto* method = sections_of_spec(spec);
    if (what == FitSettingsPane::Limited::boost) {
        call(spec.boost_limits, &BoostLimit::boost_db, spec.boost_limit_db);
    } else if (method != nullptr) {
        call(method->q_limits, &QLimit::q, method->greatest_q);
    }
}

} // namespace

FitSettingsPane::FitSettingsPane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), over_(new QComboBox),
      match_caption_(new QLabel(tr("Fit"))), match_(new QComboBox),
      window_caption_(new QLabel(tr("Window"))), window_(new QComboBox),
      refits_(new QCheckBox(tr("Fit again by itself when something above changes"))),
      boost_limits_(new LimitTable(tr("Boost up to, by frequency"), tr("boost, dB"),
                                   tr("Straight between the points; without any, the number in "
                                      "the strip"))),
      q_limits_(new LimitTable(tr("Greatest Q by frequency"), tr("greatest Q"),
                               tr("Straight between the points; without any, the number in the "
                                  "strip"))),
      words_(new QLabel) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 6, 16, 6);
    column->setSpacing(6);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(5);
    add_lines(*grid);
    add_choices(*grid);
    column->addLayout(grid);
    column->addWidget(refits_);
    auto* limits = new QHBoxLayout;
    limits->setSpacing(12);
    limits->addWidget(boost_limits_, 1);
    limits->addWidget(q_limits_, 1);
    column->addLayout(limits, 1);
    column->addWidget(words_);
    add_limits(boost_limits_, Limited::boost, tr("Limit the boost of %1 by frequency"));
    add_limits(q_limits_, Limited::q, tr("Limit the Q of %1 by frequency"));
    words_->setFont(text_font(11));
    words_->setWordWrap(true);
    connect_choices();
    connect(&session_, &Session::analysis_changed, this, &FitSettingsPane::refresh);
    connect(&session_, &Session::selection_changed, this, &FitSettingsPane::refresh);
    refresh();
}

void FitSettingsPane::add_lines(QGridLayout& grid) {
    add_line(grid, 0, "smoothing_oct", tr("The mean in dB over so many octaves is corrected"));
    add_line(grid, 1, "tolerance_db", tr("No more sections than leave every error within it"));
    add_line(grid, 2, "spread_db",
             tr("Where positions differ by so much (standard deviation), half of a boost is left; "
                "0: not minded"));
    add_line(grid, 3, "dip_db",
             tr("A narrow dip so deep below the octave about it is filled by half; 0: not minded"));
    add_line(grid, 4, "section_boost_limit_db", tr("No section boosts more"));
    add_line(grid, 5, "section_cut_limit_db", tr("No section cuts more"));
    add_line(grid, 6, "gain_step_db", tr("Gains are whole multiples of it; 0: any"));
    add_line(grid, 7, "frequency_steps_oct",
             tr("Frequencies stand so many steps an octave from 1 kHz; 0: any"));
}

void FitSettingsPane::add_choices(QGridLayout& grid) {
    auto* caption = new QLabel(tr("Positions"));
    over_->addItems({tr("their average"), tr("the worst, none worse than it was")});
    over_->setAccessibleName(caption->text());
    caption->setBuddy(over_);
    grid.addWidget(caption, 4, 0);
    grid.addWidget(over_, 4, 1, 1, 3);
    for (const auto& name : names_of_correction_matches()) {
        match_->addItem(text_of(name.title));
    }
    match_->setToolTip(
        tr("With phase or group delay all-passes are found, too: to the goal’s target of it, else "
           "so that what was measured loses its excess phase, up to a delay"));
    match_->setAccessibleName(tr("What is fitted"));
    match_caption_->setBuddy(match_);
    grid.addWidget(match_caption_, 5, 0);
    grid.addWidget(match_, 5, 1);
    add_line(grid, 11, "all_passes", tr("At most so many, beside the sections"));
    add_line(grid, 12, "delay_samples",
             tr("Where the sound stands in the taps: the least possible without a number, of "
                "linear phase the middle"));
    for (const auto& name : names_of_windows()) {
        if (name.value != WindowShape::drawn) {
            window_->addItem(text_of(name.title), static_cast<int>(name.value));
        }
    }
    window_->setAccessibleName(tr("Window"));
    window_->setToolTip(tr("Its first half weights what stands before the sound, its second half "
                           "what follows"));
    window_caption_->setBuddy(window_);
    grid.addWidget(window_caption_, 7, 0);
    grid.addWidget(window_, 7, 1);
    add_line(grid, 15, "window_parameter", tr("Of the window"));
}

void FitSettingsPane::connect_choices() {
    connect(over_, &QComboBox::activated, this, [this](int index) {
        edit_correction(session_, tr("Fit %1 to something else"), [index](CorrectionSpec& spec) {
            spec.over = static_cast<CorrectionOver>(index);
        });
    });
    connect(window_, &QComboBox::activated, this, [this] {
        const auto shape = static_cast<WindowShape>(window_->currentData().toInt());
        edit_correction(session_, tr("Choose another window for %1"),
                        [shape](CorrectionSpec& spec) {
                            if (auto* taps = std::get_if<TapsCorrection>(&spec.method)) {
                                taps->window = {shape, parameter_of(shape).usual, {}};
                            }
                        });
    });
    connect(match_, &QComboBox::activated, this, [this](int index) {
        edit_correction(session_, tr("Fit %1 to something else"), [index](CorrectionSpec& spec) {
            if (auto* method = sections_of_spec(spec)) {
                method->match =
                    names_of_correction_matches()[static_cast<std::size_t>(index)].value;
            }
        });
    });
    connect(refits_, &QCheckBox::clicked, this, [this](bool on) {
        edit_correction(session_,
                        on ? tr("Fit %1 again by itself") : tr("Fit %1 again by hand only"),
                        [on](CorrectionSpec& spec) { spec.refits = on; });
    });
}

void FitSettingsPane::add_line(QGridLayout& grid, int place, std::string_view key,
                               const QString& about) {
    const NumberField<CorrectionSpec>& field = field_of(key);
    const QString empty = key == "tolerance_db"    ? tr("none")
                          : key == "delay_samples" ? tr("least")
                                                   : QString();
    const Line line{new QLabel(QString::fromUtf8(field.caption)),
                    new QuantityEdit(field.dimension, QString::fromUtf8(field.unit), empty)};
    line.caption->setBuddy(line.edit);
    line.edit->setAccessibleName(line.caption->text());
    line.edit->setToolTip(about);
    line.caption->setToolTip(about);
    grid.addWidget(line.caption, place / 2, 2 * (place % 2));
    grid.addWidget(line.edit, place / 2, 2 * (place % 2) + 1);
    connect(line.edit, &QuantityEdit::problem_found, this, &FitSettingsPane::say);
    connect(
        line.edit, &QuantityEdit::value_entered, this, [this, &field](std::optional<double> value) {
            CorrectionSpec tried = *selected_correction(session_);
            if (value) {
                field.set(tried, *value);
            } else if (auto* method = sections_of_spec(tried)) {
                method->tolerance_db.reset();
            } else if (auto* taps = std::get_if<TapsCorrection>(&tried.method)) {
                taps->delay_samples.reset();
            }
            if (const auto fine = check_fields(tried); !fine) {
                refresh();
                say(QString::fromStdString(to_text(fine.error())));
                return;
            }
            edit_correction(session_, tr("Change %1"), [&](CorrectionSpec& spec) { spec = tried; });
        });
    lines_.insert_or_assign(std::string(key), line);
}

void FitSettingsPane::add_limits(LimitTable* table, Limited what, const QString& begin) {
    connect(table, &LimitTable::entered, this,
            [this, what](int row, int column, const QString& text) {
                take_limit(what, row, column, text);
            });
    connect(table, &LimitTable::more_wanted, this, [this, what, begin] {
        edit_correction(session_, begin, [what](CorrectionSpec& spec) {
            with_limits(
                spec, what,
                [&]<class Limit>(std::vector<Limit>& limits, double Limit::*value, double usual) {
                    if (limits.empty()) {
                        limits.push_back({spec.from_hz, usual, {}});
                    }
                    constexpr double upwards = 4, highest_hz = 20'000;
                    const Limit last = limits.back();
                    limits.push_back(
                        {std::min(last.frequency_hz * upwards, highest_hz), last.*value, {}});
                });
        });
    });
    connect(table, &LimitTable::fewer_wanted, this, [this, what](const std::set<int>& rows) {
        edit_correction(session_, tr("Change %1"), [&](CorrectionSpec& spec) {
            with_limits(spec, what, [&](auto& limits, auto, double) {
                int at = 0;
                std::erase_if(limits, [&](const auto&) { return rows.contains(at++); });
            });
        });
    });
}

void FitSettingsPane::take_limit(Limited what, int row, int column, const QString& text) {
    CorrectionSpec tried = *selected_correction(session_);
    const auto at = static_cast<std::size_t>(row);
    Expected<double> entered = 0.0;
    with_limits(tried, what, [&](auto& limits, auto value, double) {
        if (at >= limits.size()) {
            return;
        }
        double& number = column == 0 ? limits[at].frequency_hz : limits[at].*value;
        QuantityContext context;
        context.sample_rate_hz = session_.study().sample_rate_hz;
        context.current = number;
        const Dimension dimension = column == 0              ? Dimension::frequency
                                    : what == Limited::boost ? Dimension::level
                                                             : Dimension::plain;
        entered = number_from_cell(text, dimension, context);
        number = entered.value_or(number);
    });
    const auto fine = entered.and_then([&](double) { return check_settings(tried); });
    if (!fine) {
        refresh();
        say(QString::fromStdString(to_text(fine.error())));
        return;
    }
    edit_correction(session_, tr("Change %1"), [&](CorrectionSpec& spec) { spec = tried; });
}

void FitSettingsPane::refresh() {
    const CorrectionSpec* spec = selected_correction(session_);
    if (spec == nullptr) {
        return;
    }
    const auto* method = std::get_if<SectionsCorrection>(&spec->method);
    const auto* taps = std::get_if<TapsCorrection>(&spec->method);
    for (const auto& [key, line] : lines_) {
        const auto value = field_of(key).get(*spec);
        const bool is_there = value.has_value() || (key == "tolerance_db" && method != nullptr)
                              || (key == "delay_samples" && taps != nullptr);
        line.caption->setVisible(is_there);
        line.edit->setVisible(is_there);
        line.edit->set_sample_rate(session_.study().sample_rate_hz);
        line.edit->show_value(value);
    }
    over_->setCurrentIndex(static_cast<int>(spec->over));
    refits_->setChecked(spec->refits);
    window_caption_->setVisible(taps != nullptr);
    window_->setVisible(taps != nullptr);
    if (taps != nullptr) {
        window_->setCurrentIndex(window_->findData(static_cast<int>(taps->window.shape)));
        const std::string_view name = parameter_of(taps->window.shape).name;
        lines_.at("window_parameter").caption->setText(text_of(name));
    }
    match_caption_->setVisible(method != nullptr);
    match_->setVisible(method != nullptr);
    if (method != nullptr) {
        match_->setCurrentIndex(static_cast<int>(method->match));
    }
    q_limits_->setVisible(method != nullptr);
    for (const auto& [table, what] :
         {std::pair(q_limits_, Limited::q), std::pair(boost_limits_, Limited::boost)}) {
        std::vector<std::pair<double, double>> points;
        CorrectionSpec shown = *spec;
        with_limits(shown, what, [&](auto& limits, auto value, double) {
            for (const auto& limit : limits) {
                points.emplace_back(limit.frequency_hz, limit.*value);
            }
        });
        table->show_points(points);
    }
    const auto fine = check_settings(*spec);
    words_->setText(fine ? QString() : QString::fromStdString(to_text(fine.error())));
}

QuantityEdit* FitSettingsPane::line(std::string_view key) const {
    const auto found = lines_.find(key);
    return found != lines_.end() ? found->second.edit : nullptr;
}

QString FitSettingsPane::words() const {
    return words_->text();
}

void FitSettingsPane::say(const QString& problem) {
    words_->setText(problem);
}

} // namespace syntonon
