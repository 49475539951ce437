// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/measure/sound_device_box.h"

#include "app/widgets/shown_number.h"
#include "core/base/units.h"
#include "core/exchange/position_names.h"
#include "core/exchange/sound_channels.h"

#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QThreadPool>
#include <QVBoxLayout>
#include <algorithm>
#include <filesystem>
#include <utility>

namespace syntonon {
namespace {

constexpr int all_inputs = 0; // in place of a channel's number

QString level_text(double peak) {
    return peak > 0 ? QObject::tr("loudest %1 dB of full scale")
                          .arg(fixed_number(db_from_ratio(peak), 1))
                    : QObject::tr("nothing heard");
}

// What was chosen stays where it is still there.
void fill_ports(QComboBox& choice, const std::vector<SoundPort>& ports) {
    const QString before = choice.currentText();
    const QSignalBlocker quiet(choice);
    choice.clear();
    for (const SoundPort& port : ports) {
        choice.addItem(QString::fromStdString(port.name));
    }
    choice.setCurrentIndex(std::max(0, choice.findText(before)));
    choice.setEnabled(!ports.empty());
}

unsigned channels_of(const std::vector<SoundPort>& ports, const QComboBox& choice) {
    const auto index = static_cast<std::size_t>(choice.currentIndex());
    constexpr unsigned most = 32;
    return index < ports.size() ? std::min(ports[index].channels, most) : 0;
}

void keep(QComboBox& choice, const QVariant& data) {
    choice.setCurrentIndex(std::max(0, choice.findData(data)));
}

// The sweep at the rate that the devices have.
Expected<RecordedFile> recorded_file(SweepPlan plan, const RecordingWish& wish,
                                     const std::filesystem::path& path, const Watch& watch,
                                     const RecordingMeter& meter) {
    const auto rate_hz = recording_rate_hz(wish);
    if (!rate_hz) {
        return tl::unexpected(rate_hz.error());
    }
    plan.sample_rate_hz = *rate_hz;
    if (auto ok = check(plan); !ok) {
        return tl::unexpected(ok.error());
    }
    auto made = play_and_record(played_samples(plan), wish, watch, meter);
    if (!made) {
        return tl::unexpected(made.error());
    }
    return write_sound_channels(path, {made->sample_rate_hz, std::move(made->channels), {}})
        .map([&] {
            return RecordedFile{QString::fromStdString(path.string()), made->dropouts};
        });
}

} // namespace

SoundDeviceBox::SoundDeviceBox(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), form_(new QWidget), none_(new QLabel),
      output_(new QComboBox), output_channel_(new QComboBox), input_(new QComboBox),
      microphone_(new QComboBox), reference_(new QComboBox), reference_output_(new QComboBox),
      channel_(new QComboBox), position_(new QLineEdit(tr("position 1"))) {
    output_->setAccessibleName(tr("Played on"));
    output_channel_->setAccessibleName(tr("Channel that plays"));
    input_->setAccessibleName(tr("Recorded from"));
    microphone_->setAccessibleName(tr("Microphone's channel"));
    reference_->setAccessibleName(tr("Reference channel"));
    reference_->setToolTip(tr("A cable from the output back into this input takes the device's own "
                              "delay and response out, so that arrivals can be compared"));
    reference_output_->setAccessibleName(tr("Channel that the reference is played on"));
    channel_->setAccessibleName(tr("Channel that is measured"));
    position_->setAccessibleName(tr("Position of the microphone"));
    channel_->setEditable(true);
    lay_out();
    connect(output_, &QComboBox::currentIndexChanged, this, &SoundDeviceBox::fill_channels);
    connect(input_, &QComboBox::currentIndexChanged, this, &SoundDeviceBox::fill_channels);
    const auto offer_output = [this] {
        reference_output_->setEnabled(reference_->currentData().toInt() > 0);
    };
    connect(reference_, &QComboBox::currentIndexChanged, this, offer_output);
    offer_output();
    connect(&session_, &Session::study_changed, this, &SoundDeviceBox::fill_names);
    connect(&session_, &Session::selection_changed, this, &SoundDeviceBox::fill_names);
    connect(&ticks_, &QTimer::timeout, this, &SoundDeviceBox::show_progress);
    fill_names();
    show_whether_there();
}

void SoundDeviceBox::lay_out() {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(form_);
    column->addWidget(none_);
    none_->setText(tr("Looking for devices"));
    none_->setWordWrap(true);
    auto* form = new QFormLayout(form_);
    form->setContentsMargins(0, 0, 0, 0);
    form->setVerticalSpacing(4);
    for (QComboBox* device : {output_, input_}) {
        device->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        constexpr int letters = 8;
        device->setMinimumContentsLength(letters);
        device->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    }
    for (QComboBox* number : {output_channel_, microphone_, reference_output_}) {
        number->setMinimumContentsLength(static_cast<int>(tr("all channels").size()));
    }
    const auto row = [form](const QString& name, const std::vector<QWidget*>& parts) {
        auto* line = new QHBoxLayout;
        for (QWidget* part : parts) {
            line->addWidget(part);
        }
        form->addRow(name, line);
    };
    row(tr("play on"), {output_, output_channel_});
    row(tr("record"), {input_, microphone_});
    row(tr("reference"), {reference_, new QLabel(tr("from")), reference_output_});
    row(tr("as"), {channel_, position_});
}

void SoundDeviceBox::show_whether_there() {
    form_->setVisible(has_devices());
    none_->setVisible(!has_devices());
}

void SoundDeviceBox::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    look_for_devices();
}

// Asking a sound system may take a while.
void SoundDeviceBox::look_for_devices() {
    if (!work_.is_busy()) {
        looking_.begin([](const Watch&) { return recording_ports(); },
                       [this](RecordingPorts ports) { fill_devices(std::move(ports)); });
    }
}

void SoundDeviceBox::fill_devices(RecordingPorts ports) {
    ports_ = std::move(ports);
    fill_ports(*output_, ports_.outputs);
    fill_ports(*input_, ports_.inputs);
    fill_channels();
    none_->setText(
        tr("Measuring needs a device that plays and one that records: plug one in, or start "
           "PulseAudio, PipeWire or JACK. The simulated room needs none."));
    show_whether_there();
    emit devices_changed();
}

void SoundDeviceBox::fill_channels() {
    const QVariant plays = output_channel_->currentData(), hears = microphone_->currentData(),
                   reference = reference_->currentData(), sent = reference_output_->currentData();
    for (QComboBox* choice : {output_channel_, microphone_, reference_, reference_output_}) {
        choice->clear();
    }
    const auto number = [](QComboBox& choice, unsigned channel) {
        choice.addItem(tr("channel %1").arg(channel), static_cast<int>(channel));
    };
    for (unsigned channel = 1; channel <= channels_of(ports_.outputs, *output_); ++channel) {
        number(*output_channel_, channel);
        number(*reference_output_, channel);
    }
    reference_->addItem(tr("none"), 0);
    const unsigned inputs = channels_of(ports_.inputs, *input_);
    for (unsigned channel = 1; channel <= inputs; ++channel) {
        number(*microphone_, channel);
        number(*reference_, channel);
    }
    if (inputs > 1) {
        microphone_->addItem(tr("all channels"), all_inputs);
    }
    keep(*output_channel_, plays);
    keep(*microphone_, hears);
    keep(*reference_, reference);
    // A cable is most often in the socket beside the loudspeaker's.
    keep(*reference_output_, sent.isValid() ? sent : QVariant(2));
}

// Another selected channel is the one to be measured; a name that was typed stays otherwise.
void SoundDeviceBox::fill_names() {
    QString name = channel_->currentText();
    const Channel* selected = session_.channel();
    if (selected != nullptr && (name.isEmpty() || selected->id != followed_)) {
        followed_ = selected->id;
        name = QString::fromStdString(selected->name);
    }
    channel_->clear();
    for (const auto& channel : session_.study().channels) {
        channel_->addItem(QString::fromStdString(channel->name));
    }
    channel_->setCurrentText(name);
}

RecordingWish SoundDeviceBox::wish() const {
    RecordingWish wish;
    wish.output = output_->currentText().toStdString();
    wish.input = input_->currentText().toStdString();
    wish.outputs = {output_channel_->currentData().toUInt()};
    wish.inputs.clear();
    const int reference = reference_->currentData().toInt();
    const int microphone = microphone_->currentData().toInt();
    const int last = static_cast<int>(channels_of(ports_.inputs, *input_));
    for (int channel = 1; channel <= last; ++channel) {
        const bool wanted = microphone == all_inputs || channel == microphone;
        if (wanted && channel != reference) {
            wish.inputs.push_back(static_cast<unsigned>(channel));
        }
    }
    if (reference > 0 && !wish.inputs.empty()) {
        wish.inputs.push_back(static_cast<unsigned>(reference)); // the last of them
        wish.outputs.push_back(reference_output_->currentData().toUInt());
    }
    return wish;
}

std::string SoundDeviceBox::file_name() const {
    QString name = channel_->currentText() + ", " + position_->text();
    name.replace('/', '-');
    return name.toStdString() + ".wav";
}

void SoundDeviceBox::record(const SweepPlan& plan) {
    RecordingWish asked = wish();
    asked.sample_rate_hz = plan.sample_rate_hz;
    if (position_->text().trimmed().isEmpty()) {
        emit said(tr("Name the position of the microphone"), true);
        position_->setFocus();
        return;
    }
    if (asked.inputs.empty()) {
        emit said(
            tr("The reference is on the microphone's channel: choose another for one of them"),
            true);
        return;
    }
    // As it is now: another channel may be selected, another sweep be planned, while it plays.
    MeasuredFiles files;
    files.sweep = plan;
    files.channel = channel_->currentText();
    files.position = position_->text();
    if (reference_->currentData().toInt() > 0) {
        files.reference_channel = static_cast<int>(asked.inputs.size()); // the last of them
    }
    meter_ = RecordingMeter();
    length_s_ = static_cast<double>(played_samples(plan).size()) / plan.sample_rate_hz;
    const auto path = std::filesystem::path(folder_.path().toStdString()) / file_name();
    work_.begin(
        [plan, asked, path, meter = meter_](const Watch& watch) {
            QThreadPool::globalInstance()->releaseThread(); // it only waits
            auto made = recorded_file(plan, asked, path, watch, meter);
            QThreadPool::globalInstance()->reserveThread();
            return made;
        },
        [this, files = std::move(files)](const Expected<RecordedFile>& made) {
            take(made, files);
        });
    constexpr int tick_ms = 100;
    ticks_.start(tick_ms);
    show_progress();
}

void SoundDeviceBox::stop() {
    ticks_.stop();
    if (work_.is_busy()) {
        work_.stop();
        emit said(tr("Stopped: nothing was recorded"), false);
    }
}

void SoundDeviceBox::show_progress() {
    emit said(tr("Playing: %1 of %2 s · %3")
                  .arg(fixed_number(work_.done() * length_s_, 1), fixed_number(length_s_, 1),
                       level_text(meter_.peak())),
              false);
}

void SoundDeviceBox::take(const Expected<RecordedFile>& made, MeasuredFiles files) {
    ticks_.stop();
    if (!made) {
        emit said(QString::fromStdString(to_text(made.error())), true);
        return;
    }
    emit said(made->dropouts > 0
                  ? tr("The device lost %1 blocks: measure again, with fewer programs running")
                        .arg(made->dropouts)
                  : tr("Recorded · %1%2")
                        .arg(level_text(meter_.peak()),
                             files.reference_channel
                                 ? QString()
                                 : tr(" · without a reference: when it arrives cannot be "
                                      "compared with others")),
              made->dropouts > 0);
    files.paths << made->path;
    emit recorded(files);
}

void SoundDeviceBox::go_on() {
    position_->setText(QString::fromStdString(next_position_name(position_->text().toStdString())));
}

} // namespace syntonon
