// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/measure/simulated_room_box.h"

#include "app/widgets/quantity_edit.h"
#include "core/exchange/sound_channels.h"
#include "demo/dome.h"
#include "standin/recorder.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>
#include <filesystem>

namespace syntonon {
namespace {

enum class Fault { none, clipping, drift, other_rate, dropped_block, swapped, no_reference };

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
    faults.swapped_channels = fault == Fault::swapped;
    faults.missing_reference = fault == Fault::no_reference;
    return faults;
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
    : QWidget(parent), loudspeaker_(new QComboBox), row_(new QComboBox), fault_(new QComboBox),
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
    for (QComboBox* choice : {loudspeaker_, row_, fault_}) {
        line->addWidget(choice);
    }
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
    connect(fault_, &QComboBox::currentIndexChanged, this, [this] {
        if (needs_reference(static_cast<Fault>(fault_->currentData().toInt()))) {
            reference_->setChecked(true);
        }
    });
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
    const std::pair<Fault, QString> faults[] = {{Fault::none, tr("no fault")},
                                                {Fault::clipping, tr("clipping")},
                                                {Fault::drift, tr("clocks apart")},
                                                {Fault::other_rate, tr("other rate")},
                                                {Fault::dropped_block, tr("dropped block")},
                                                {Fault::swapped, tr("swapped channels")},
                                                {Fault::no_reference, tr("reference unplugged")}};
    for (const auto& [fault, name] : faults) {
        fault_->addItem(name, static_cast<int>(fault));
    }
    loudspeaker_->setAccessibleName(tr("Loudspeaker"));
    row_->setAccessibleName(tr("Seat row"));
    fault_->setAccessibleName(tr("Fault"));
    fault_->setToolTip(tr("What goes wrong with the recordings, to see how it is found"));
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
    recorder.faults = faults_of(static_cast<Fault>(fault_->currentData().toInt()));
    MeasuredFiles files;
    files.sweep = plan;
    files.reference_channel = recorder.has_reference ? std::optional(2) : std::nullopt;
    emit said(tr("Recording %1 positions in the simulated room").arg(places.size()), false);
    work_.begin(
        [places, plan, recorder, folder = folder_.path().toStdString()](const Watch& watch) {
            std::vector<Expected<QString>> made;
            for (const RoomPlace& place : places) {
                if (!watch.is_stopped()) {
                    made.push_back(record_one(place, plan, recorder, folder));
                }
            }
            return made;
        },
        [this, files = std::move(files)](const std::vector<Expected<QString>>& made) {
            take(made, files);
        });
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
