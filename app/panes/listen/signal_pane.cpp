// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/listen/signal_pane.h"

#include "app/widgets/theme.h"
#include "core/exchange/taps_text.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPlainTextEdit>
#include <QRadioButton>
#include <QSpinBox>
#include <QVBoxLayout>

namespace syntonon {
namespace {

constexpr int least_length = 2, greatest_length = 65'536;

} // namespace

SignalPane::SignalPane(TestSignal& signal, QWidget* parent)
    : QWidget(parent), signal_(signal), impulse_(new QRadioButton(tr("Impulse: 1, 0, 0, …"))),
      step_(new QRadioButton(tr("Step: 1, 1, 1, …"))), row_(new QRadioButton(tr("Numbers:"))),
      numbers_(new QPlainTextEdit), length_(new QSpinBox), facts_(new QLabel) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 10, 16, 8);
    for (QRadioButton* button : {impulse_, step_, row_}) {
        column->addWidget(button);
    }
    impulse_->setChecked(true);
    numbers_->setPlaceholderText(
        tr("Type or paste numbers: 1 0.5 −0.25 …\nBlanks, commas, semicolons or lines part them."));
    numbers_->setAccessibleName(tr("Numbers of the signal"));
    numbers_->setTabChangesFocus(true);
    column->addWidget(numbers_, 1);
    facts_->setWordWrap(true);
    facts_->setObjectName("signal_facts");
    column->addWidget(facts_);
    auto* row = new QHBoxLayout;
    auto* caption = new QLabel(tr("Shown"));
    length_->setRange(least_length, greatest_length);
    length_->setValue(signal_.length());
    length_->setSuffix(tr(" samples"));
    length_->setAccessibleName(tr("Shown samples"));
    caption->setBuddy(length_);
    row->addWidget(caption);
    row->addWidget(length_);
    row->addStretch(1);
    column->addLayout(row);
    connect(impulse_, &QRadioButton::clicked, this,
            [this] { signal_.choose(SignalKind::impulse); });
    connect(step_, &QRadioButton::clicked, this, [this] { signal_.choose(SignalKind::step); });
    connect(row_, &QRadioButton::clicked, this, &SignalPane::take_numbers);
    connect(numbers_, &QPlainTextEdit::textChanged, this, &SignalPane::take_numbers);
    connect(length_, &QSpinBox::valueChanged, &signal_, &TestSignal::set_length);
}

QRadioButton* SignalPane::choice(SignalKind kind) const {
    return kind == SignalKind::impulse ? impulse_ : kind == SignalKind::step ? step_ : row_;
}

QString SignalPane::problem() const {
    return facts_->text().startsWith(QStringLiteral("◇")) ? facts_->text() : QString();
}

// What cannot be read leaves the signal as it is and says why.
void SignalPane::take_numbers() {
    row_->setChecked(true);
    const std::string text =
        numbers_->toPlainText().replace(QStringLiteral("−"), "-").toStdString();
    const auto read = taps_from_text(text);
    QPalette colours = palette();
    colours.setColor(QPalette::WindowText, read ? theme().soft : theme().not_met);
    facts_->setPalette(colours);
    if (!read) {
        facts_->setText(QStringLiteral("◇ ") + QString::fromStdString(to_text(read.error())));
        return;
    }
    const auto count = static_cast<int>(read->size());
    if (count > greatest_length) {
        facts_->setText(
            tr("◇ %1 numbers are more than %2: give fewer").arg(count).arg(greatest_length));
        return;
    }
    facts_->setText(count == 1 ? tr("1 number, then silence")
                               : tr("%1 numbers, then silence").arg(count));
    if (count > signal_.length()) {
        length_->setValue(count);
    }
    signal_.set_numbers(*read);
}

} // namespace syntonon
