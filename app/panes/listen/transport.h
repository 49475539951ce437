// At the foot of the Listen desk: play, loop, what is listened to, how loud, and on what.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/listening.h"

#include <QWidget>
#include <vector>

class QCheckBox;
class QHBoxLayout;
class QLabel;
class QSlider;
class QToolButton;

namespace syntonon {

class LevelMeter;

class Transport : public QWidget {
    Q_OBJECT

public:
    Transport(Session& session, Listening& listening, QWidget* parent = nullptr);

    QToolButton* play_button() const { return play_; }
    QCheckBox* loop_box() const { return loop_; }
    QCheckBox* match_box() const { return match_; }
    QSlider* volume() const { return volume_; }
    const std::vector<QToolButton*>& choice_buttons() const { return choices_; }
    QString state() const;
    QToolButton* device_button() const { return device_; }
    QToolButton* save_button() const { return save_; }
    // What is chosen, as loud as it is.
    void save(const QString& path, const SoundFormatWish& wish);

private:
    void follow();
    void refresh();
    void rebuild_choices();
    void fill_devices();
    void show_device();
    void show_state();
    void ask_and_save();

    Session& session_;
    Listening& listening_;
    QToolButton *play_, *device_, *save_;
    QCheckBox *loop_, *match_;
    QHBoxLayout* row_;
    std::vector<QToolButton*> choices_;
    std::vector<ListenChoice> shown_;
    QSlider* volume_;
    QLabel *volume_text_, *state_;
    LevelMeter* meter_;
    SaveSound saving_;
};

} // namespace syntonon
