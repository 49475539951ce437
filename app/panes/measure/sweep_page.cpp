// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/measure/sweep_page.h"

#include "app/widgets/quantity_edit.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "core/exchange/sound_stream.h"
#include "demo/dome.h"
#include "standin/recorder.h"

#include <QComboBox>
#include <QFileDialog>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <cmath>
#include <filesystem>

namespace syntonon {
namespace {

Expected<void> write_mono(const std::filesystem::path& path, const std::vector<double>& samples,
                          double sample_rate_hz) {
    auto writer = SoundWriter::create(path, {sample_rate_hz, 1, 0}, SoundWords::float_32);
    if (!writer) {
        return tl::unexpected(writer.error());
    }
    return (*writer)->write(samples).and_then([&] { return (*writer)->finish(); });
}

enum class Fault { none, clipping, drift, other_rate, dropped_block };

RecordingFaults faults_of(Fault fault) {
    RecordingFaults faults;
    constexpr double clips_at = 0.08, drift_ppm = 80, other_rate_hz = 44'100, block_s = 8;
    constexpr std::size_t block_samples = 512;
    faults.clips_at = fault == Fault::clipping ? std::optional(clips_at) : std::nullopt;
    faults.drift_ppm = fault == Fault::drift ? drift_ppm : 0;
    if (fault == Fault::other_rate) {
        faults.true_rate_hz = other_rate_hz;
    }
    if (fault == Fault::dropped_block) {
        faults.dropped_block = DroppedBlock{block_s, block_samples};
    }
    return faults;
}

// One place of the room, recorded into a file.
struct RoomPlace {
    const DomeLoudspeaker* loudspeaker;
    int row;
};
Expected<QString> record_one(const RoomPlace& place, const SweepPlan& plan, RecorderPlan recorder,
                             const std::filesystem::path& folder) {
    recorder.sample_rate_hz = plan.sample_rate_hz;
    recorder.seed += place.row + static_cast<double>(place.loudspeaker->id.size()) * dome_rows;
    const Recording made =
        recorded(played_samples(plan),
                 dome_response(*place.loudspeaker, place.row, plan.sample_rate_hz), recorder);
    const auto path = folder / (place.loudspeaker->name + ", " + dome_row_name(place.row) + ".wav");
    return write_mono(path, made.channels[0], made.sample_rate_hz).map([&] {
        return QString::fromStdString(path.string());
    });
}

} // namespace

SweepPage::SweepPage(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), noise_(new QuantityEdit(Dimension::level, tr("dB"))),
      facts_(new QLabel), said_(new QLabel), loudspeaker_(new QComboBox), row_(new QComboBox),
      fault_(new QComboBox), write_(new QPushButton(tr("Write as WAV…"))),
      import_(new QPushButton(tr("Import recordings…"))),
      record_(new QPushButton(tr("Play and record"))) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 8, 16, 8);
    auto* both = new QHBoxLayout;
    auto* left = new QFormLayout;
    auto* right = new QFormLayout;
    both->addLayout(left);
    both->addSpacing(18);
    both->addLayout(right);
    column->addLayout(both);
    add_field(*left, "from_hz", tr("from"), new QuantityEdit(Dimension::frequency, tr("Hz")),
              &SweepPlan::from_hz);
    add_field(*left, "to_hz", tr("to"), new QuantityEdit(Dimension::frequency, tr("Hz")),
              &SweepPlan::to_hz);
    add_field(*left, "length_s", tr("length"), new QuantityEdit(Dimension::time, tr("s")),
              &SweepPlan::length_s);
    add_field(*right, "peak_db", tr("peak"), new QuantityEdit(Dimension::level, tr("dB")),
              &SweepPlan::peak_db);
    add_field(*right, "lead_out_s", tr("silence behind"),
              new QuantityEdit(Dimension::time, tr("s")), &SweepPlan::lead_out_s);
    auto* repeats = new QuantityEdit(Dimension::plain, {});
    repeats->setAccessibleName(tr("sweeps"));
    right->addRow(tr("sweeps"), repeats);
    edits_["repeats"] = repeats;
    connect(repeats, &QuantityEdit::value_entered, this, [this](std::optional<double> count) {
        SweepPlan changed = plan_;
        changed.repeats = static_cast<int>(std::lround(count.value_or(1)));
        if (const auto ok = check(changed); ok) {
            plan_ = changed;
            said_->clear();
        } else {
            say(QString::fromStdString(ok.error().reason + ": " + ok.error().way_out), true);
        }
        show_plan();
    });
    facts_->setWordWrap(true);
    facts_->setFont(text_font(11));
    column->addWidget(facts_);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(write_);
    buttons->addWidget(import_);
    buttons->addStretch(1);
    column->addLayout(buttons);
    column->addWidget(simulated_room());
    said_->setWordWrap(true);
    said_->setFont(text_font(11));
    column->addWidget(said_);
    column->addStretch(1);
    write_->setToolTip(
        tr("What is played, and the inverse filter that turns a recording of it into "
           "an impulse response elsewhere"));
    connect(write_, &QPushButton::clicked, this, &SweepPage::ask_write);
    connect(import_, &QPushButton::clicked, this, &SweepPage::import_asked_for);
    connect(record_, &QPushButton::clicked, this, &SweepPage::record);
    connect(&session_, &Session::study_changed, this, &SweepPage::show_plan);
    show_plan();
}

QWidget* SweepPage::simulated_room() {
    auto* room = new QWidget;
    auto* rows = new QVBoxLayout(room);
    rows->setContentsMargins(0, 6, 0, 0);
    auto* head = new QHBoxLayout;
    auto* title = new QLabel(tr("In the simulated room"));
    title->setFont(text_font(13, QFont::DemiBold));
    head->addWidget(title);
    head->addStretch(1);
    head->addWidget(record_);
    rows->addLayout(head);
    auto* line = new QHBoxLayout;
    rows->addLayout(line);
    loudspeaker_->addItem(tr("all loudspeakers"));
    for (const DomeLoudspeaker& each : dome_loudspeakers()) {
        loudspeaker_->addItem(QString::fromStdString(each.name));
    }
    row_->addItem(tr("all rows"));
    for (int row = 0; row < dome_rows; ++row) {
        row_->addItem(QString::fromStdString(dome_row_name(row)));
    }
    fault_->addItem(tr("no fault"), static_cast<int>(Fault::none));
    fault_->addItem(tr("clipping"), static_cast<int>(Fault::clipping));
    fault_->addItem(tr("clocks apart"), static_cast<int>(Fault::drift));
    fault_->addItem(tr("other rate"), static_cast<int>(Fault::other_rate));
    fault_->addItem(tr("dropped block"), static_cast<int>(Fault::dropped_block));
    loudspeaker_->setAccessibleName(tr("Loudspeaker"));
    row_->setAccessibleName(tr("Seat row"));
    fault_->setAccessibleName(tr("Fault"));
    fault_->setToolTip(tr("What goes wrong with the recordings, to see how it is found"));
    for (QComboBox* choice : {loudspeaker_, row_, fault_}) {
        line->addWidget(choice);
    }
    noise_->setAccessibleName(tr("Signal to noise"));
    noise_->setToolTip(tr("Of the recorded sweep to the noise in the room"));
    constexpr double usual_db = 50;
    noise_->show_value(usual_db);
    constexpr int wide = 56;
    noise_->setFixedWidth(wide);
    line->addWidget(noise_);
    line->addWidget(new QLabel(tr("above noise")));
    line->addStretch(1);
    return room;
}

void SweepPage::add_field(QFormLayout& form, const char* field, const QString& name,
                          QuantityEdit* edit, double SweepPlan::*number) {
    edit->setAccessibleName(name);
    form.addRow(name, edit);
    edits_[field] = edit;
    connect(edit, &QuantityEdit::value_entered, this, [this, number](std::optional<double> value) {
        SweepPlan changed = plan_;
        changed.*number = value.value_or(plan_.*number);
        if (const auto ok = check(changed); ok) {
            plan_ = changed;
            said_->clear();
        } else {
            say(QString::fromStdString(ok.error().reason + ": " + ok.error().way_out), true);
        }
        show_plan();
    });
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
    QPalette colours = palette();
    colours.setColor(QPalette::WindowText, is_problem ? theme().not_met : theme().soft);
    said_->setPalette(colours);
    said_->setText((is_problem ? QStringLiteral("◇ ") : QString()) + text);
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

void SweepPage::record() {
    std::vector<RoomPlace> places;
    const auto all = dome_loudspeakers();
    for (std::size_t i = 0; i < all.size(); ++i) {
        for (int row = 0; row < dome_rows; ++row) {
            const bool wanted = (loudspeaker_->currentIndex() == 0
                                 || loudspeaker_->currentIndex() == static_cast<int>(i) + 1)
                                && (row_->currentIndex() == 0 || row_->currentIndex() == row + 1);
            if (wanted) {
                places.push_back({&all[i], row});
            }
        }
    }
    RecorderPlan recorder;
    recorder.signal_to_noise_db = noise_->value();
    recorder.faults = faults_of(static_cast<Fault>(fault_->currentData().toInt()));
    record_->setEnabled(false);
    say(tr("Recording %1 positions in the simulated room").arg(places.size()), false);
    work_.begin(
        [places, plan = plan_, recorder,
         folder = folder_.path().toStdString()](const Watch& watch) {
            std::vector<Expected<QString>> made;
            for (const RoomPlace& place : places) {
                if (!watch.is_stopped()) {
                    made.push_back(record_one(place, plan, recorder, folder));
                }
            }
            return made;
        },
        [this](const std::vector<Expected<QString>>& made) {
            record_->setEnabled(true);
            said_->clear();
            QStringList paths;
            for (const auto& path : made) {
                if (path) {
                    paths << *path;
                } else {
                    say(QString::fromStdString(to_text(path.error())), true);
                }
            }
            if (!paths.isEmpty()) {
                emit recorded(paths);
            }
        });
}

} // namespace syntonon
