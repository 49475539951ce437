// Sweeps played and recorded through the sound device.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "app/model/measured_files.h"
#include "app/model/session.h"
#include "core/curve/sweep.h"
#include "core/device/play_and_record.h"

#include <QTemporaryDir>
#include <QTimer>
#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;

namespace syntonon {

struct RecordedFile {
    QString path;
    unsigned dropouts = 0; // blocks that the device lost
};

class SoundDeviceBox : public QWidget {
    Q_OBJECT

public:
    explicit SoundDeviceBox(Session& session, QWidget* parent = nullptr);

    void record(const SweepPlan& plan); // then recorded(), or said()
    void stop();
    void go_on(); // names the position after the one that was taken
    bool is_busy() const { return work_.is_busy(); }
    bool has_devices() const { return !ports_.outputs.empty(); }
    QComboBox* output_choice() const { return output_; }
    QComboBox* output_channel_choice() const { return output_channel_; }
    QComboBox* input_choice() const { return input_; }
    QComboBox* microphone_choice() const { return microphone_; }
    QComboBox* reference_choice() const { return reference_; }
    QComboBox* reference_output_choice() const { return reference_output_; }
    QComboBox* channel_edit() const { return channel_; }
    QLineEdit* position_edit() const { return position_; }

signals:
    void said(const QString& text, bool is_problem);
    void recorded(const MeasuredFiles& files); // in a folder that goes with the box
    void devices_changed();

protected:
    void showEvent(QShowEvent* event) override;

private:
    void lay_out();
    void show_whether_there();
    void look_for_devices();
    void fill_devices(RecordingPorts ports);
    void fill_channels();
    void fill_names();
    RecordingWish wish() const;
    std::string file_name() const;
    void take(const Expected<RecordedFile>& made, MeasuredFiles files);
    void show_progress();

    Session& session_;
    RecordingPorts ports_;
    QWidget* form_;
    QLabel* none_; // in its place where there is no device
    QComboBox *output_, *output_channel_, *input_, *microphone_;
    QComboBox *reference_, *reference_output_, *channel_;
    QLineEdit* position_;
    std::string followed_; // the channel that was selected last
    QTemporaryDir folder_;
    RecordingMeter meter_;
    double length_s_ = 0; // of what is being recorded
    QTimer ticks_;
    Beside looking_{this}, work_{this};
};

} // namespace syntonon
