// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/taps_trim.h"

#include "app/dialogs/stage_out_dialog.h"
#include "app/dialogs/taps_in_dialog.h"
#include "app/panes/trim/trim_panels.h"
#include "app/widgets/said.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/exchange/taps_text.h"

#include <QClipboard>
#include <QFileDialog>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace syntonon {

TapsTrim::TapsTrim(Session& session, QWidget* parent)
    : TrimPanel(parent), session_(session), summary_(new QLabel), problem_(new QLabel) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    row->addWidget(summary_);
    const auto add = [&](const QString& text, const QString& tip, void (TapsTrim::*act)()) {
        auto* button = new QPushButton(text);
        button->setToolTip(tip);
        connect(button, &QPushButton::clicked, this, act);
        row->addWidget(button);
    };
    add(tr("Paste"), tr("Takes the numbers on the clipboard as taps"), &TapsTrim::paste);
    add(tr("From a file…"),
        tr("Takes the numbers in a text or the samples in a sound file as taps"),
        &TapsTrim::choose_file);
    add(tr("Copy"), tr("Puts the taps on the clipboard, one a line"), &TapsTrim::copy);
    add(tr("To a file…"), tr("Text, C array, hexadecimal words, WAV or FLAC"), &TapsTrim::save);
    row->addStretch(1);
    column->addLayout(row);
    column->addWidget(problem_);
    column->addStretch(1);
    summary_->setMinimumWidth(180);
    summary_->setFont(text_font(13));
    problem_->setFont(text_font(11));
}

void TapsTrim::show_stage(const Stage& stage) {
    const auto& taps = *std::get<TapsSpec>(*stage.spec).taps;
    double sum = 0;
    for (const double tap : taps) {
        sum += tap;
    }
    summary_->setText(
        tr("%1, sum %2").arg(QString::fromStdString(summary_of(stage)), shown_number(sum, 6)));
    show_words(std::exchange(said_, {}), false);
}

void TapsTrim::show_words(const QString& text, bool is_problem) {
    say_on(*problem_, text, is_problem);
}

void TapsTrim::take(const Expected<TakenTaps>& taken) {
    const Stage* stage = session_.stage();
    if (stage == nullptr) {
        return;
    }
    const StageSpec spec{taken ? TapsSpec{std::make_shared<const std::vector<double>>(taken->taps)}
                               : TapsSpec()};
    const auto filter = session_.try_design(spec);
    if (!taken || !filter) {
        show_words(QString::fromStdString(to_text(!taken ? taken.error() : filter.error())), true);
        return;
    }
    said_ = taken->words;
    session_.edit_stage(tr("Change the taps of %1").arg(QString::fromStdString(title_of(*stage))),
                        [&](Stage& s) { s.spec = spec; });
}

void TapsTrim::paste() {
    const auto taken = taps_of_text(session_, QGuiApplication::clipboard()->text(), this);
    if (!taken || *taken) {
        take(taken.map([](const auto& some) { return *some; }));
    }
}

void TapsTrim::take_file(const QString& path) {
    const auto taken = taps_of_file(session_, path, this);
    if (!taken || *taken) {
        take(taken.map([](const auto& some) { return *some; }));
    }
}

void TapsTrim::choose_file() {
    const QString path =
        QFileDialog::getOpenFileName(this, tr("Taps from a file"), {}, taps_file_filter());
    if (!path.isEmpty()) {
        take_file(path);
    }
}

void TapsTrim::copy() {
    if (const Stage* stage = session_.stage()) {
        QGuiApplication::clipboard()->setText(
            QString::fromStdString(taps_text(*std::get<TapsSpec>(*stage->spec).taps)));
    }
}

void TapsTrim::save() {
    StageOutDialog dialog(session_, this);
    if (dialog.exec() == QDialog::Accepted) {
        show_words(dialog.words(), false);
    }
}

TrimPanel* make_panel(const TapsSpec&, Session& session) {
    return new TapsTrim(session);
}

void offer(const TapsSpec&, std::vector<NewStage>& offers) {
    offers.push_back({tr("Taps"), TapsSpec{}});
}

} // namespace syntonon
