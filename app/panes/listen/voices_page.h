// How a chain with modelled stages is played: what moves their frequency, and keys.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/listening.h"
#include "app/model/session.h"
#include "core/device/midi_keys.h"

#include <QWidget>
#include <vector>

class QCheckBox;
class QComboBox;
class QLabel;
class QLayout;

namespace syntonon {

class Field;
class KeyRow;

class VoicesPage : public QWidget {
    Q_OBJECT

public:
    VoicesPage(Session& session, Listening& listening, QWidget* parent = nullptr);
    ~VoicesPage() override;

    Field* field(std::string_view key) const; // null when there is none
    QComboBox* wave() const { return wave_; }
    QComboBox* midi() const { return midi_; }
    QCheckBox* plain() const { return plain_; }
    KeyRow* keys() const { return keys_; }
    QString problem() const;

private:
    class Drawing;
    QLayout* make_fields();
    Field* make_field(const NumberField<Modulation>& number);
    QLayout* make_foot();
    void take(std::size_t index, double value, bool continuing);
    void edit(const QString& name, const QString& gesture,
              const std::function<void(Modulation&)>& change);
    void list_midi();
    void listen_to_midi(int index);
    void play_keys();
    void show_problem(const QString& text);
    void refresh();

    Session& session_;
    Listening& listening_;
    std::vector<Field*> fields_; // in the order of fields_of(Modulation)
    QComboBox *wave_, *midi_;
    QCheckBox* plain_;
    QLabel* problem_;
    Drawing* drawing_;
    KeyRow* keys_;
    std::unique_ptr<MidiKeys> midi_keys_;
};

} // namespace syntonon
