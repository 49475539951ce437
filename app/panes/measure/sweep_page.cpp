// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/measure/sweep_page.h"

#include "app/panes/measure/simulated_room_box.h"
#include "app/panes/measure/sound_device_box.h"
#include "app/widgets/quantity_edit.h"
#include "app/widgets/said.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "core/exchange/sound_channels.h"

#include <QComboBox>
#include <QFileDialog>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <cmath>
#include <filesystem>

namespace syntonon {
namespace {

Expected<void> write_mono(const std::filesystem::path& path, std::vector<double> samples,
                          double sample_rate_hz) {
    return write_sound_channels(path, {sample_rate_hz, {std::move(samples)}, {}});
}

} // namespace

SweepPage::SweepPage(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), facts_(new QLabel), said_(new QLabel),
      where_(new QComboBox), boxes_(new QStackedWidget), device_(new SoundDeviceBox(session)),
      room_(new SimulatedRoomBox), write_(new QPushButton(tr("Write as WAV…"))),
      import_(new QPushButton(tr("Import recordings…"))), record_(new QPushButton) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 8, 16, 8);
    column->addLayout(plan_form());
    facts_->setWordWrap(true);
    facts_->setFont(text_font(11));
    column->addWidget(facts_);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(write_);
    buttons->addWidget(import_);
    buttons->addStretch(1);
    column->addLayout(buttons);
    column->addLayout(recording_row());
    column->addWidget(boxes_);
    said_->setWordWrap(true);
    said_->setFont(text_font(11));
    column->addWidget(said_);
    column->addStretch(1);
    write_->setToolTip(
        tr("What is played, and the inverse filter that turns a recording of it into "
           "an impulse response elsewhere"));
    connect(write_, &QPushButton::clicked, this, &SweepPage::ask_write);
    connect(import_, &QPushButton::clicked, this, &SweepPage::import_asked_for);
    connect(record_, &QPushButton::clicked, this, &SweepPage::record_or_stop);
    connect(&session_, &Session::study_changed, this, &SweepPage::show_plan);
    show_plan();
    show_where();
}

QLayout* SweepPage::plan_form() {
    auto* columns = new QHBoxLayout;
    constexpr int apart = 16;
    columns->setSpacing(apart);
    const auto column = [columns](int stretch) {
        auto* form = new QFormLayout;
        form->setVerticalSpacing(4);
        columns->addLayout(form, stretch);
        return form;
    };
    auto *range = column(3), *time = column(2), *level = column(3);
    add_field(*range, "from_hz", tr("from"), new QuantityEdit(Dimension::frequency, tr("Hz")),
              &SweepPlan::from_hz);
    add_field(*range, "to_hz", tr("to"), new QuantityEdit(Dimension::frequency, tr("Hz")),
              &SweepPlan::to_hz);
    add_field(*time, "length_s", tr("length"), new QuantityEdit(Dimension::time, tr("s")),
              &SweepPlan::length_s);
    add_field(*level, "peak_db", tr("peak"), new QuantityEdit(Dimension::level, tr("dB")),
              &SweepPlan::peak_db);
    add_field(*level, "lead_out_s", tr("silence"), new QuantityEdit(Dimension::time, tr("s")),
              &SweepPlan::lead_out_s);
    edits_["lead_out_s"]->setToolTip(tr("Behind each sweep: as long as the room rings"));
    auto* repeats = new QuantityEdit(Dimension::plain, {});
    repeats->setAccessibleName(tr("sweeps"));
    time->addRow(tr("sweeps"), repeats);
    edits_["repeats"] = repeats;
    connect(repeats, &QuantityEdit::value_entered, this, [this](std::optional<double> count) {
        SweepPlan changed = plan_;
        changed.repeats = static_cast<int>(std::lround(count.value_or(1)));
        take(changed);
    });
    return columns;
}

QLayout* SweepPage::recording_row() {
    auto* row = new QHBoxLayout;
    row->setContentsMargins(0, 6, 0, 0);
    where_->addItem(tr("through the sound device"));
    where_->addItem(tr("in the simulated room"));
    where_->setAccessibleName(tr("Where the sweep is played and recorded"));
    row->addWidget(where_);
    row->addStretch(1);
    row->addWidget(record_);
    boxes_->addWidget(device_);
    boxes_->addWidget(room_);
    connect(where_, &QComboBox::currentIndexChanged, this, &SweepPage::show_where);
    connect(device_, &SoundDeviceBox::devices_changed, this, &SweepPage::show_where);
    connect(device_, &SoundDeviceBox::said, this, &SweepPage::say);
    connect(room_, &SimulatedRoomBox::said, this, &SweepPage::say);
    connect(device_, &SoundDeviceBox::recorded, this, &SweepPage::recorded);
    connect(room_, &SimulatedRoomBox::recorded, this, &SweepPage::recorded);
    return row;
}

bool SweepPage::is_in_room() const {
    return boxes_->currentWidget() == room_;
}

bool SweepPage::is_busy() const {
    return room_->is_busy() || device_->is_busy();
}

void SweepPage::show_where() {
    boxes_->setCurrentIndex(where_->currentIndex());
    said_->clear();
    show_record();
}

void SweepPage::show_record() {
    where_->setEnabled(!is_busy());
    record_->setEnabled(is_busy() || is_in_room() || device_->has_devices());
    record_->setText(is_busy() ? tr("Stop") : tr("Play and record"));
}

void SweepPage::add_field(QFormLayout& form, const char* field, const QString& name,
                          QuantityEdit* edit, double SweepPlan::*number) {
    edit->setAccessibleName(name);
    constexpr int narrowest = 56;
    edit->setMinimumWidth(narrowest);
    form.addRow(name, edit);
    edits_[field] = edit;
    connect(edit, &QuantityEdit::value_entered, this, [this, number](std::optional<double> value) {
        SweepPlan changed = plan_;
        changed.*number = value.value_or(plan_.*number);
        take(changed);
    });
}

void SweepPage::take(const SweepPlan& changed) {
    if (const auto ok = check(changed); ok) {
        plan_ = changed;
        said_->clear();
    } else {
        say(QString::fromStdString(ok.error().reason + ": " + ok.error().way_out), true);
    }
    show_plan();
}

void SweepPage::show_plan() {
    plan_.sample_rate_hz = session_.study().sample_rate_hz;
    plan_.to_hz = std::min(plan_.to_hz, plan_.sample_rate_hz / 2);
    edits_["from_hz"]->show_value(plan_.from_hz);
    edits_["to_hz"]->show_value(plan_.to_hz);
    edits_["length_s"]->show_value(plan_.length_s);
    edits_["peak_db"]->show_value(plan_.peak_db);
    edits_["lead_out_s"]->show_value(plan_.lead_out_s);
    edits_["repeats"]->show_value(plan_.repeats);
    const double all_s =
        plan_.lead_in_s
        + static_cast<double>(period_samples(plan_)) * plan_.repeats / plan_.sample_rate_hz;
    facts_->setText(tr("Exponential sweep (Farina): an octave in %1 s, %2 s in all with %3 s of "
                       "silence before; the second harmonic stands %4 s before the response")
                        .arg(shown_number(octave_time_s(plan_), 3), shown_number(all_s, 4),
                             shown_number(plan_.lead_in_s, 2),
                             shown_number(harmonic_lead_s(plan_, 2), 3)));
}

void SweepPage::say(const QString& text, bool is_problem) {
    say_on(*said_, (is_problem ? QStringLiteral("◇ ") : QString()) + text, is_problem);
    // A box says, too, when it is done.
    QMetaObject::invokeMethod(this, &SweepPage::show_record, Qt::QueuedConnection);
}

QString SweepPage::said() const {
    return said_->text();
}

Expected<void> SweepPage::write(const std::string& path) const {
    const std::filesystem::path sweep(path);
    std::filesystem::path inverse = sweep;
    inverse.replace_filename(sweep.stem().string() + "-inverse" + sweep.extension().string());
    return write_mono(sweep, played_samples(plan_), plan_.sample_rate_hz).and_then([&] {
        return write_mono(inverse, inverse_filter(plan_), plan_.sample_rate_hz);
    });
}

void SweepPage::ask_write() {
    QString path = QFileDialog::getSaveFileName(this, tr("Write the sweep"), tr("sweep.wav"),
                                                tr("WAV (*.wav);;64-bit WAV (*.w64)"));
    if (path.isEmpty()) {
        return;
    }
    path += QFileInfo(path).suffix().isEmpty() ? QStringLiteral(".wav") : QString();
    if (const auto done = write(path.toStdString()); done) {
        say(tr("Written: %1, and the inverse filter beside it").arg(QFileInfo(path).fileName()),
            false);
    } else {
        say(QString::fromStdString(to_text(done.error())), true);
    }
}

void SweepPage::record_or_stop() {
    if (is_busy()) {
        device_->stop();
        room_->stop();
        return;
    }
    emit about_to_play();
    if (is_in_room()) {
        room_->record(plan_);
    } else {
        device_->record(plan_);
    }
}

} // namespace syntonon
