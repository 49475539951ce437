// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/listen/blind_page.h"

#include "app/widgets/flat_button.h"
#include "app/widgets/shown_number.h"
#include "core/math/guessing.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QRandomGenerator>
#include <QToolButton>

namespace syntonon {

BlindPage::BlindPage(Listening& listening, QWidget* parent)
    : QWidget(parent), listening_(listening), first_(new QComboBox), second_(new QComboBox),
      show_score_(new QCheckBox(tr("show the score"))), score_(new QLabel) {
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(16, 10, 16, 10);
    grid->setVerticalSpacing(10);
    grid->setColumnStretch(1, 1);
    const auto pick = [&](int row, const QString& letter, QComboBox* box) {
        auto* label = new QLabel(tr("%1 is").arg(letter));
        label->setBuddy(box);
        box->setAccessibleName(label->text());
        grid->addWidget(label, row, 0);
        grid->addWidget(box, row, 1, 1, 2);
        connect(box, &QComboBox::activated, this, &BlindPage::start_over);
    };
    pick(0, "A", first_);
    pick(1, "B", second_);
    auto* hears = new QHBoxLayout;
    const QString letters[] = {"A", "B", "X"};
    for (int i = 0; i < 3; ++i) {
        hear_[i] = new QToolButton;
        hear_[i]->setText(tr("hear %1").arg(letters[i]));
        hear_[i]->setCheckable(true);
        hears->addWidget(hear_[i]);
        connect(hear_[i], &QToolButton::clicked, this, [this, i] { hear(i); });
    }
    hears->addStretch(1);
    grid->addLayout(hears, 2, 0, 1, 3);
    auto* answers = new QHBoxLayout;
    for (int i = 0; i < 2; ++i) {
        answer_[i] = new QToolButton;
        answer_[i]->setText(tr("X is %1").arg(letters[i]));
        answers->addWidget(answer_[i]);
        connect(answer_[i], &QToolButton::clicked, this, [this, i] { answer(i == 1); });
    }
    auto* again = flat_button(tr("Start over"), tr("Forget the answers"));
    answers->addWidget(again);
    answers->addStretch(1);
    connect(again, &QToolButton::clicked, this, &BlindPage::start_over);
    grid->addLayout(answers, 3, 0, 1, 3);
    grid->addWidget(show_score_, 4, 0, 1, 3);
    score_->setWordWrap(true);
    score_->setObjectName("blind_score");
    grid->addWidget(score_, 5, 0, 1, 3);
    grid->setRowStretch(6, 1);
    connect(show_score_, &QCheckBox::clicked, this, &BlindPage::refresh);
    connect(&listening_, &Listening::changed, this, &BlindPage::refresh);
    draw();
    refresh();
}

void BlindPage::draw() {
    x_is_second_ = QRandomGenerator::global()->bounded(2) == 1;
    heard_x_ = false;
}

QString BlindPage::score() const {
    return score_->text();
}

void BlindPage::refresh() {
    if (shown_ != listening_.choices()) {
        shown_ = listening_.choices();
        // What was compared stays, as far as it is still there.
        const auto fill = [&](QComboBox* box, int otherwise) {
            const QString was = box->currentText();
            box->clear();
            for (const ListenChoice& choice : shown_) {
                box->addItem(choice.name);
            }
            const int found = box->findText(was);
            box->setCurrentIndex(found >= 0 ? found : std::min(otherwise, box->count() - 1));
        };
        fill(first_, 0);
        fill(second_, 1);
    }
    QString text;
    if (answered_ == 0) {
        text =
            tr("Listen to A, B and X as often as you like, while it plays, then say which X is.");
    } else if (!show_score_->isChecked()) {
        text = answered_ == 1 ? tr("1 answer") : tr("%1 answers").arg(answered_);
    } else {
        text = tr("%1 of %2 right. Guessing does as well with a probability of %3 %.")
                   .arg(right_)
                   .arg(answered_)
                   .arg(shown_number(100 * probability_by_guessing(right_, answered_), 2));
    }
    score_->setText(text);
    for (QToolButton* button : answer_) {
        button->setEnabled(heard_x_);
    }
}

// Which button is down says only what was asked for.
void BlindPage::hear(int which) {
    for (int i = 0; i < 3; ++i) {
        hear_[i]->setChecked(i == which);
    }
    const bool second = which == 1 || (which == 2 && x_is_second_);
    listening_.choose_hidden(static_cast<std::size_t>((second ? second_ : first_)->currentIndex()));
    if (!listening_.is_playing()) {
        listening_.play(true);
    }
    heard_x_ = heard_x_ || (which == 2 && listening_.is_playing());
    refresh();
}

void BlindPage::answer(bool second) {
    ++answered_;
    right_ += second == x_is_second_ ? 1 : 0;
    draw();
    if (hear_[2]->isChecked()) {
        hear(2);
    }
    refresh();
}

void BlindPage::start_over() {
    answered_ = right_ = 0;
    draw();
    if (hear_[2]->isChecked() && listening_.is_playing()) {
        hear(2);
    }
    refresh();
}

} // namespace syntonon
