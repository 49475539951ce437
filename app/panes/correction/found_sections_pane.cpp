// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/correction/found_sections_pane.h"

#include "app/model/correction_commands.h"
#include "app/panes/goal/number_table.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

const SectionsCorrection* selected_sections(const Session& session) {
    const CorrectionSpec* spec = selected_correction(session);
    return spec != nullptr ? std::get_if<SectionsCorrection>(&spec->method) : nullptr;
}

QStringList row_of(const FoundSection& found) {
    const ParametricSpec& section = found.section;
    return {text_of(title_of(section.shape)), fixed_number(section.frequency_hz, 1),
            has_gain(section.shape) ? fixed_number(section.gain_db, 2) : QStringLiteral("–"),
            fixed_number(section.width.value, 2), found.locked ? tr("locked") : QString()};
}

} // namespace

FoundSectionsPane::FoundSectionsPane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session),
      table_(new NumberTable({tr("shape"), tr("Hz"), tr("dB"), tr("Q"), QString()},
                             tr("Sections of the correction"))),
      lock_(new QPushButton(tr("Lock"))), add_(new QPushButton(tr("Add"))),
      remove_(new QPushButton(tr("Remove"))), open_(new QPushButton(tr("Open into stages"))),
      words_(new QLabel) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 4, 16, 6);
    column->setSpacing(4);
    column->addWidget(table_, 1);
    auto* row = new QHBoxLayout;
    for (QPushButton* button : {lock_, add_, remove_}) {
        row->addWidget(button);
    }
    row->addStretch(1);
    row->addWidget(open_);
    column->addLayout(row);
    column->addWidget(words_);
    words_->setFont(text_font(11));
    words_->setWordWrap(true);
    table_->fix_column(shape);
    table_->fix_column(held);
    lock_->setCheckable(true);
    lock_->setToolTip(tr("Locked sections stay as they are when the correction is fitted again; "
                         "what is changed by hand is locked"));
    open_->setToolTip(tr("Plain parametric stages in this one's place, in one step"));
    connect(table_, &NumberTable::entered, this, &FoundSectionsPane::take);
    connect(table_, &NumberTable::rows_chosen, this, [this] {
        if (const auto rows = table_->chosen_rows(); rows.size() == 1) {
            session_.part_in_hand().take(static_cast<std::size_t>(*rows.begin()));
        }
        tell_buttons();
    });
    connect(&session_.part_in_hand(), &PartInHand::changed, this, [this] {
        table_->choose_rows({static_cast<int>(session_.part_in_hand().at())});
        tell_buttons();
    });
    connect(lock_, &QPushButton::clicked, this,
            [this](bool locked) { lock_found(session_, table_->chosen_rows(), locked); });
    connect(remove_, &QPushButton::clicked, this,
            [this] { remove_found(session_, table_->chosen_rows()); });
    connect(add_, &QPushButton::clicked, this, [this] {
        if (const CorrectionSpec* spec = selected_correction(session_)) {
            const double middle_hz = std::sqrt(spec->from_hz * spec->to_hz);
            add_found(session_, parametric(ParametricShape::peak, middle_hz, -3, 2));
        }
    });
    connect(open_, &QPushButton::clicked, this, [this] { open_into_stages(session_); });
    connect(&session_, &Session::analysis_changed, this, &FoundSectionsPane::refresh);
    connect(&session_, &Session::selection_changed, this, &FoundSectionsPane::refresh);
    refresh();
}

QString FoundSectionsPane::words() const {
    return words_->text();
}

void FoundSectionsPane::refresh() {
    std::vector<QStringList> rows;
    if (const SectionsCorrection* method = selected_sections(session_)) {
        std::ranges::transform(method->found, std::back_inserter(rows), row_of);
    }
    table_->show_rows(rows);
    const StageAnalysis* stage = session_.stage_analysis();
    words_->setText(!refused_.isEmpty() ? refused_
                    : stage != nullptr && !stage->filter
                        ? QString::fromStdString(to_text(stage->filter.error()))
                    : rows.empty() ? tr("Nothing was found yet: press Fit below the lanes.")
                                   : QString());
    refused_.clear();
    tell_buttons();
}

void FoundSectionsPane::tell_buttons() {
    const SectionsCorrection* method = selected_sections(session_);
    const auto rows = table_->chosen_rows();
    const bool any = method != nullptr && !rows.empty();
    lock_->setEnabled(any);
    remove_->setEnabled(any);
    lock_->setChecked(any && std::ranges::all_of(rows, [&](int row) {
                          const auto at = static_cast<std::size_t>(row);
                          return at < method->found.size() && method->found[at].locked;
                      }));
    open_->setEnabled(method != nullptr && !method->found.empty());
}

void FoundSectionsPane::take(int row, int column, const QString& text) {
    const SectionsCorrection* method = selected_sections(session_);
    const auto at = static_cast<std::size_t>(row);
    if (method == nullptr || at >= method->found.size()) {
        return;
    }
    const ParametricSpec& section = method->found[at].section;
    QuantityContext context;
    context.sample_rate_hz = session_.study().sample_rate_hz;
    context.current = column == frequency ? section.frequency_hz
                      : column == gain    ? section.gain_db
                                          : section.width.value;
    const Dimension dimension = column == frequency ? Dimension::frequency
                                : column == gain    ? Dimension::level
                                                    : Dimension::plain;
    ParametricSpec tried = section;
    const auto value = number_from_cell(text, dimension, context);
    double& number = column == frequency ? tried.frequency_hz
                     : column == gain    ? tried.gain_db
                                         : tried.width.value;
    number = value.value_or(number);
    const auto made =
        value.and_then([&](double) { return parametric_filter(tried, session_.axis()); });
    if (!made) {
        refused_ = QString::fromStdString(to_text(made.error()));
        refresh(); // what was there stays
        return;
    }
    change_found(session_, at, [&](ParametricSpec& spec) { spec = tried; });
}

} // namespace syntonon
