// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/correction/fit_settings_pane.h"

#include "app/model/correction_commands.h"
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

} // namespace

FitSettingsPane::FitSettingsPane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), over_(new QComboBox),
      match_caption_(new QLabel(tr("Fit"))), match_(new QComboBox),
      window_caption_(new QLabel(tr("Window"))), window_(new QComboBox),
      refits_(new QCheckBox(tr("Fit again by itself when something above changes"))),
      q_box_(new QWidget),
      q_limits_(new NumberTable({tr("at, Hz"), tr("greatest Q")}, tr("Greatest Q by frequency"))),
      add_q_(new QPushButton(tr("Add"))), remove_q_(new QPushButton(tr("Remove"))),
      words_(new QLabel) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 6, 16, 6);
    column->setSpacing(6);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(5);
    add_line(*grid, 0, "smoothing_oct", tr("The mean in dB over so many octaves is corrected"));
    add_line(*grid, 1, "tolerance_db", tr("No more sections than leave every error within it"));
    add_line(*grid, 2, "spread_db",
             tr("Where positions differ by so much (standard deviation), half of a boost is left; "
                "0: not minded"));
    add_line(*grid, 3, "dip_db",
             tr("A narrow dip so deep below the octave about it is filled by half; 0: not minded"));
    add_line(*grid, 4, "section_boost_limit_db", tr("No section boosts more"));
    add_line(*grid, 5, "section_cut_limit_db", tr("No section cuts more"));
    add_line(*grid, 6, "gain_step_db", tr("Gains are whole multiples of it; 0: any"));
    add_line(*grid, 7, "frequency_steps_oct",
             tr("Frequencies stand so many steps an octave from 1 kHz; 0: any"));
    auto* caption = new QLabel(tr("Positions"));
    over_->addItems({tr("their average"), tr("the worst, none worse than it was")});
    over_->setAccessibleName(caption->text());
    caption->setBuddy(over_);
    grid->addWidget(caption, 4, 0);
    grid->addWidget(over_, 4, 1, 1, 3);
    for (const auto& name : names_of_correction_matches()) {
        match_->addItem(text_of(name.title));
    }
    match_->setToolTip(
        tr("With phase or group delay all-passes are found, too: to the goal's target of it, else "
           "so that what was measured loses its excess phase, up to a delay"));
    match_->setAccessibleName(tr("What is fitted"));
    match_caption_->setBuddy(match_);
    grid->addWidget(match_caption_, 5, 0);
    grid->addWidget(match_, 5, 1);
    add_line(*grid, 11, "all_passes", tr("At most so many, beside the sections"));
    add_line(*grid, 12, "delay_samples",
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
    grid->addWidget(window_caption_, 7, 0);
    grid->addWidget(window_, 7, 1);
    add_line(*grid, 15, "window_parameter", tr("Of the window"));
    column->addLayout(grid);
    column->addWidget(refits_);
    column->addWidget(q_box_, 1);
    column->addWidget(words_);
    add_q_limits();
    words_->setFont(text_font(11));
    words_->setWordWrap(true);
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
    connect(&session_, &Session::analysis_changed, this, &FitSettingsPane::refresh);
    connect(&session_, &Session::selection_changed, this, &FitSettingsPane::refresh);
    refresh();
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

void FitSettingsPane::add_q_limits() {
    auto* box = new QGridLayout(q_box_);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(4);
    auto* caption = new QLabel(tr("Greatest Q by frequency"));
    caption->setToolTip(tr("Straight between the points; without any, the number in the strip"));
    box->addWidget(caption, 0, 0);
    box->addWidget(add_q_, 0, 1);
    box->addWidget(remove_q_, 0, 2);
    box->addWidget(q_limits_, 1, 0, 1, 3);
    box->setColumnStretch(0, 1);
    connect(q_limits_, &NumberTable::entered, this, &FitSettingsPane::take_q_limit);
    connect(q_limits_, &NumberTable::rows_chosen, this,
            [this] { remove_q_->setEnabled(!q_limits_->chosen_rows().empty()); });
    connect(add_q_, &QPushButton::clicked, this, [this] {
        edit_correction(session_, tr("Limit the Q of %1 by frequency"), [](CorrectionSpec& spec) {
            if (auto* method = sections_of_spec(spec)) {
                auto& limits = method->q_limits;
                if (limits.empty()) {
                    limits.push_back({spec.from_hz, method->greatest_q, {}});
                }
                const QLimit& last = limits.back();
                constexpr double upwards = 4;
                limits.push_back({std::min(last.frequency_hz * upwards, 20'000.0), last.q, {}});
            }
        });
    });
    connect(remove_q_, &QPushButton::clicked, this, [this] {
        edit_correction(session_, tr("Change %1"), [this](CorrectionSpec& spec) {
            if (auto* method = sections_of_spec(spec)) {
                int at = 0;
                const auto rows = q_limits_->chosen_rows();
                std::erase_if(method->q_limits, [&](const QLimit&) { return rows.contains(at++); });
            }
        });
    });
}

void FitSettingsPane::take_q_limit(int row, int column, const QString& text) {
    CorrectionSpec tried = *selected_correction(session_);
    auto* method = sections_of_spec(tried);
    const auto at = static_cast<std::size_t>(row);
    if (method == nullptr || at >= method->q_limits.size()) {
        return;
    }
    QuantityContext context;
    context.sample_rate_hz = session_.study().sample_rate_hz;
    QLimit& limit = method->q_limits[at];
    double& number = column == 0 ? limit.frequency_hz : limit.q;
    context.current = number;
    const auto value =
        number_from_cell(text, column == 0 ? Dimension::frequency : Dimension::plain, context);
    number = value.value_or(number);
    const auto fine = value.and_then([&](double) { return check_settings(tried); });
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
    q_box_->setVisible(method != nullptr);
    if (method != nullptr) {
        std::vector<QStringList> rows;
        for (const QLimit& limit : method->q_limits) {
            rows.push_back({number_cell(limit.frequency_hz), number_cell(limit.q)});
        }
        q_limits_->show_rows(rows);
        remove_q_->setEnabled(!q_limits_->chosen_rows().empty());
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
