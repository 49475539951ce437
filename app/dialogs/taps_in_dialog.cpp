// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/dialogs/taps_in_dialog.h"

#include "app/dialogs/dialog_foot.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"
#include "core/exchange/resampled_taps.h"

#include <QComboBox>
#include <QFileInfo>
#include <QFormLayout>
#include <QLabel>
#include <QPushButton>
#include <QSpinBox>

namespace syntonon {
namespace {

QString hertz(double hz) {
    return QString::fromStdString(frequency_text(hz, 6));
}

Expected<std::optional<TakenTaps>> asked(TapsInDialog& dialog) {
    if (dialog.has_questions() && dialog.exec() != QDialog::Accepted) {
        return std::nullopt;
    }
    return dialog.taken().map([](const TakenTaps& taken) { return std::optional(taken); });
}

} // namespace

TapsInDialog::TapsInDialog(Session& session, const QString& path, const QString& text,
                           QWidget* parent)
    : QDialog(parent), session_(session), path_(path), text_(text), form_(new QFormLayout(this)),
      facts_(new QLabel), bits_(new QSpinBox), fraction_(new QSpinBox), channel_(new QComboBox),
      rate_(new QComboBox), take_(new QPushButton(tr("Take"))) {
    setWindowTitle(tr("Taps from elsewhere"));
    setMinimumWidth(520);
    form_->setContentsMargins(18, 16, 18, 14);
    form_->setVerticalSpacing(10);
    form_->addRow(tr("From"),
                  new QLabel(path.isEmpty() ? tr("the clipboard") : QFileInfo(path).fileName()));
    form_->addRow(tr("Holds"), facts_);
    facts_->setWordWrap(true);
    bits_->setRange(2, 64);
    bits_->setValue(16);
    bits_->setSuffix(tr(" bits"));
    fraction_->setRange(-1024, 1024);
    fraction_->setValue(15);
    fraction_->setSuffix(tr(" bits"));
    ask_what_is_open();
    add_foot(*form_, *this, *take_);
    connect(take_, &QPushButton::clicked, this, &QDialog::accept);
    for (QSpinBox* box : {bits_, fraction_}) {
        connect(box, &QSpinBox::valueChanged, this, &TapsInDialog::read);
    }
    for (QComboBox* box : {channel_, rate_}) {
        connect(box, &QComboBox::activated, this, &TapsInDialog::read);
    }
    read();
}

void TapsInDialog::ask_what_is_open() {
    const auto ask = [this](const QString& title, QWidget* widget) {
        widget->setAccessibleName(title);
        form_->addRow(title, widget);
        has_questions_ = true;
    };
    const auto plain = read_with({});
    if (!plain && read_with(TextWord{64, 0})) { // they are words, and nothing says which
        ask(tr("A word has"), bits_);
        ask(tr("Of them a fraction"), fraction_);
    } else {
        bits_->hide();
        fraction_->hide();
    }
    const double own_rate = session_.study().sample_rate_hz;
    const double rate = plain ? plain->sample_rate_hz.value_or(own_rate) : own_rate;
    for (int i = 0; plain && i < plain->channels; ++i) {
        channel_->addItem(tr("channel %1").arg(i + 1));
    }
    if (channel_->count() > 1) {
        ask(tr("Take"), channel_);
    } else {
        channel_->hide();
    }
    rate_->addItems({tr("leave the samples as they are: all frequencies move by %1 : %2")
                         .arg(hertz(own_rate), hertz(rate)),
                     tr("resample them to %1").arg(hertz(own_rate))});
    rate_->setCurrentIndex(1);
    if (rate != own_rate) {
        ask(tr("Sample rate"), rate_);
    } else {
        rate_->hide();
    }
}

Expected<ReadTaps> TapsInDialog::read_with(std::optional<TextWord> words) const {
    if (path_.isEmpty()) {
        return taps_from_text(text_.toStdString(), words).map([](std::vector<double> taps) {
            return ReadTaps{std::move(taps)};
        });
    }
    return read_taps(path_.toStdString(), {words, std::max(0, channel_->currentIndex())});
}

Expected<TakenTaps> TapsInDialog::fitted(ReadTaps read) const {
    const double own_rate = session_.study().sample_rate_hz;
    if (!read.sample_rate_hz || *read.sample_rate_hz == own_rate) {
        return TakenTaps{std::move(read.taps)};
    }
    if (rate_->currentIndex() == 0) {
        return TakenTaps{
            std::move(read.taps),
            tr("Made for %1 and taken as they are: at %2 their frequencies have moved.")
                .arg(hertz(*read.sample_rate_hz), hertz(own_rate))};
    }
    return resampled_taps(read.taps, *read.sample_rate_hz, own_rate).map([&](ResampledTaps made) {
        return TakenTaps{
            std::move(made.taps),
            tr("Resampled from %1: nothing is left above %2, and all of it is later by %3 "
               "samples, for what rings before the first one.")
                .arg(hertz(*read.sample_rate_hz),
                     hertz(std::min(own_rate, *read.sample_rate_hz) / 2),
                     shown_number(made.later_samples, 6))};
    });
}

void TapsInDialog::read() {
    std::optional<TextWord> words;
    if (!bits_->isHidden()) {
        words = TextWord{bits_->value(), fraction_->value()};
    }
    taken_ = read_with(words).and_then([&](ReadTaps read) { return fitted(std::move(read)); });
    take_->setEnabled(taken_.has_value());
    QPalette colours = palette();
    colours.setColor(QPalette::WindowText, taken_ ? theme().text : theme().not_met);
    facts_->setPalette(colours);
    if (!taken_) {
        facts_->setText(QStringLiteral("◇ ") + QString::fromStdString(to_text(taken_.error())));
        return;
    }
    double sum = 0, greatest = 0;
    for (const double tap : taken_->taps) {
        sum += tap;
        greatest = std::max(greatest, std::abs(tap));
    }
    QString facts = tr("%1 taps, sum %2, greatest %3")
                        .arg(taken_->taps.size())
                        .arg(shown_number(sum, 6), shown_number(greatest, 6));
    if (!taken_->words.isEmpty()) {
        facts += "\n" + taken_->words;
    }
    facts_->setText(facts);
}

QString TapsInDialog::facts() const {
    return facts_->text();
}

QString taps_file_filter() {
    return tr("Taps (*.txt *.csv *.dat *.h *.c *.hex *.wav *.flac *.aiff *.aif);;All files (*)");
}

Expected<std::optional<TakenTaps>> taps_of_file(Session& session, const QString& path,
                                                QWidget* parent) {
    TapsInDialog dialog(session, path, {}, parent);
    return asked(dialog);
}

Expected<std::optional<TakenTaps>> taps_of_text(Session& session, const QString& text,
                                                QWidget* parent) {
    TapsInDialog dialog(session, {}, text, parent);
    return asked(dialog);
}

} // namespace syntonon
