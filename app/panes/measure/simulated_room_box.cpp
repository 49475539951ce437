// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/measure/simulated_room_box.h"

#include "app/widgets/menu_button.h"
#include "app/widgets/quantity_edit.h"
#include "core/exchange/sound_channels.h"
#include "demo/dome.h"
#include "standin/recorder.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QToolButton>
#include <QVBoxLayout>
#include <filesystem>

namespace syntonon {
namespace {

enum class Fault { clipping, drift, other_rate, dropped_block, swapped, no_reference };

void add_fault(Fault fault, RecordingFaults& faults) {
    constexpr double clips_at = 0.08, drift_ppm = 80, other_rate_hz = 44'100, block_s = 8;
    constexpr std::size_t block_samples = 512;
    switch (fault) {
    case Fault::clipping:
        faults.clips_at = clips_at;
        break;
    case Fault::drift:
        faults.drift_ppm = drift_ppm;
        break;
    case Fault::other_rate:
        faults.true_rate_hz = other_rate_hz;
        break;
    case Fault::dropped_block:
        faults.dropped_block = DroppedBlock{block_s, block_samples};
        break;
    case Fault::swapped:
        faults.swapped_channels = true;
        break;
    case Fault::no_reference:
        faults.missing_reference = true;
        break;
    }
}

// Each of them strikes one recording, as far apart as they can be.
std::vector<RecordingFaults> spread_over(std::size_t recordings, const std::vector<Fault>& faults) {
    std::vector<RecordingFaults> spread(recordings);
    for (std::size_t i = 0; i < faults.size(); ++i) {
        add_fault(faults[i], spread[(2 * i + 1) * recordings / (2 * faults.size())]);
    }
    return spread;
}

bool needs_reference(Fault fault) {
    return fault == Fault::swapped || fault == Fault::no_reference;
}

// One place of the room, recorded into a file.
struct RoomPlace {
    const DomeLoudspeaker* loudspeaker;
    int row;
};

// Each choice 0: all of them.
std::vector<RoomPlace> places_of(int loudspeaker, int row) {
    std::vector<RoomPlace> places;
    const auto all = dome_loudspeakers();
    for (std::size_t i = 0; i < all.size(); ++i) {
        for (int r = 0; r < dome_rows; ++r) {
            const bool wanted = (loudspeaker == 0 || loudspeaker == static_cast<int>(i) + 1)
                                && (row == 0 || row == r + 1);
            if (wanted) {
                places.push_back({&all[i], r});
            }
        }
    }
    return places;
}

Expected<QString> record_one(const RoomPlace& place, const SweepPlan& plan, RecorderPlan recorder,
                             const std::filesystem::path& folder) {
    recorder.sample_rate_hz = plan.sample_rate_hz;
    recorder.seed += place.row + static_cast<double>(place.loudspeaker->id.size()) * dome_rows;
    Recording made =
        recorded(played_samples(plan),
                 dome_response(*place.loudspeaker, place.row, plan.sample_rate_hz), recorder);
    const auto path = folder / (place.loudspeaker->name + ", " + dome_row_name(place.row) + ".wav");
    return write_sound_channels(path, {made.sample_rate_hz, std::move(made.channels), {}}).map([&] {
        return QString::fromStdString(path.string());
    });
}

} // namespace

SimulatedRoomBox::SimulatedRoomBox(QWidget* parent)
    : QWidget(parent), loudspeaker_(new QComboBox), row_(new QComboBox),
      faults_(
          menu_button({}, tr("What goes wrong with the recordings, to see how it is found: each "
                             "with one of them"))),
      reference_(new QCheckBox(tr("reference on channel 2"))),
      noise_(new QuantityEdit(Dimension::level, tr("dB"))) {
    auto* rows = new QVBoxLayout(this);
    rows->setContentsMargins(0, 0, 0, 0);
    auto* line = new QHBoxLayout;
    auto* second = new QHBoxLayout;
    rows->addLayout(line);
    rows->addLayout(second);
    rows->addStretch(1);
    fill_choices();
    line->addWidget(loudspeaker_);
    line->addWidget(row_);
    line->addWidget(faults_);
    line->addStretch(1);
    noise_->setAccessibleName(tr("Signal to noise"));
    noise_->setToolTip(tr("Of the recorded sweep to the noise in the room"));
    constexpr double usual_db = 50;
    noise_->show_value(usual_db);
    constexpr int wide = 56;
    noise_->setFixedWidth(wide);
    second->addWidget(noise_);
    second->addWidget(new QLabel(tr("above noise")));
    second->addSpacing(18);
    second->addWidget(reference_);
    second->addStretch(1);
    reference_->setToolTip(tr("What is played is recorded beside the microphone, as by a cable "
                              "from the output back into the input"));
    connect(faults_->menu(), &QMenu::triggered, this, &SimulatedRoomBox::take_fault);
    show_faults();
}

void SimulatedRoomBox::take_fault(QAction* action) {
    if (!action->data().isValid()) {
        for (QAction* each : faults_->menu()->actions()) {
            each->setChecked(false);
        }
    } else if (action->isChecked() && needs_reference(static_cast<Fault>(action->data().toInt()))) {
        reference_->setChecked(true);
    }
    show_faults();
}

void SimulatedRoomBox::show_faults() {
    QStringList names;
    for (const QAction* each : faults_->menu()->actions()) {
        if (each->isChecked()) {
            names << each->text();
        }
    }
    faults_->setText(names.isEmpty()    ? tr("no fault")
                     : names.size() < 3 ? names.join(", ")
                                        : tr("%1 faults").arg(names.size()));
}

void SimulatedRoomBox::fill_choices() {
    loudspeaker_->addItem(tr("all loudspeakers"));
    for (const DomeLoudspeaker& each : dome_loudspeakers()) {
        loudspeaker_->addItem(QString::fromStdString(each.name));
    }
    row_->addItem(tr("all rows"));
    for (int row = 0; row < dome_rows; ++row) {
        row_->addItem(QString::fromStdString(dome_row_name(row)));
    }
    const std::pair<Fault, QString> faults[] = {
        {Fault::clipping, tr("clipping")},        {Fault::drift, tr("clocks apart")},
        {Fault::other_rate, tr("other rate")},    {Fault::dropped_block, tr("dropped block")},
        {Fault::swapped, tr("swapped channels")}, {Fault::no_reference, tr("reference unplugged")}};
    faults_->menu()->addAction(tr("No fault"));
    faults_->menu()->addSeparator();
    for (const auto& [fault, name] : faults) {
        QAction* action = faults_->menu()->addAction(name);
        action->setCheckable(true);
        action->setData(static_cast<int>(fault));
    }
    loudspeaker_->setAccessibleName(tr("Loudspeaker"));
    row_->setAccessibleName(tr("Seat row"));
}

void SimulatedRoomBox::record(const SweepPlan& plan) {
    const std::vector<RoomPlace> places =
        places_of(loudspeaker_->currentIndex(), row_->currentIndex());
    RecorderPlan recorder;
    recorder.signal_to_noise_db = noise_->value();
    constexpr double usual_second = 0.02, usual_third = 0.01; // a loudspeaker has some
    recorder.second_harmonic = usual_second;
    recorder.third_harmonic = usual_third;
    recorder.has_reference = reference_->isChecked();
    std::vector<Fault> faults;
    for (const QAction* each : faults_->menu()->actions()) {
        if (each->isChecked()) {
            faults.push_back(static_cast<Fault>(each->data().toInt()));
        }
    }
    MeasuredFiles files;
    files.sweep = plan;
    files.reference_channel = recorder.has_reference ? std::optional(2) : std::nullopt;
    emit said(tr("Recording %1 positions in the simulated room").arg(places.size()), false);
    work_.begin(
        [places, plan, recorder, faults = spread_over(places.size(), faults),
         folder = folder_.path().toStdString()](const Watch& watch) {
            std::vector<Expected<QString>> made;
            for (std::size_t i = 0; i < places.size() && !watch.is_stopped(); ++i) {
                RecorderPlan one = recorder;
                one.faults = faults[i];
                made.push_back(record_one(places[i], plan, one, folder));
            }
            return made;
        },
        [this, files = std::move(files)](const std::vector<Expected<QString>>& made) {
            take(made, files);
        });
}

void SimulatedRoomBox::choose(const std::string& loudspeaker, const std::string& row) {
    const int at = loudspeaker_->findText(QString::fromStdString(loudspeaker));
    const int row_at = row_->findText(QString::fromStdString(row));
    if (at > 0 && row_at > 0) {
        loudspeaker_->setCurrentIndex(at);
        row_->setCurrentIndex(row_at);
    }
}

void SimulatedRoomBox::stop() {
    work_.stop();
}

void SimulatedRoomBox::take(const std::vector<Expected<QString>>& made, MeasuredFiles files) {
    emit said({}, false);
    for (const auto& path : made) {
        if (path) {
            files.paths << *path;
        } else {
            emit said(QString::fromStdString(to_text(path.error())), true);
        }
    }
    if (!files.paths.isEmpty()) {
        emit recorded(files);
    }
}

} // namespace syntonon
