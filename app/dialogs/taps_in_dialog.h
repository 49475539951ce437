// Taps from a text or a file, and what has to be asked about them: the format of words, which
// channel of a sound file, whether it is resampled.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/exchange/taps_file.h"

#include <QDialog>
#include <optional>
#include <vector>

class QComboBox;
class QFormLayout;
class QLabel;
class QPushButton;
class QSpinBox;

namespace syntonon {

struct TakenTaps {
    std::vector<double> taps;
    QString words = {}; // what the user should know of how they came about; may be empty
};

class TapsInDialog : public QDialog {
    Q_OBJECT

public:
    // Of a file, or else of the text.
    TapsInDialog(Session& session, const QString& path, const QString& text,
                 QWidget* parent = nullptr);

    // Whether there is anything to ask; else taken() is there at once.
    bool has_questions() const { return has_questions_; }
    const Expected<TakenTaps>& taken() const { return taken_; }
    QString facts() const;
    QSpinBox* bits() const { return bits_; }
    QSpinBox* fraction() const { return fraction_; }
    QComboBox* channel() const { return channel_; }
    QComboBox* rate() const { return rate_; } // 0: as they are, 1: resampled
    QPushButton* take_button() const { return take_; }

private:
    void ask_what_is_open();
    void read();
    Expected<ReadTaps> read_with(std::optional<TextWord> words) const;
    Expected<TakenTaps> fitted(ReadTaps read) const;

    Session& session_;
    QString path_, text_;
    bool has_questions_ = false;
    Expected<TakenTaps> taken_;
    QFormLayout* form_;
    QLabel* facts_;
    QSpinBox *bits_, *fraction_;
    QComboBox *channel_, *rate_;
    QPushButton* take_;
};

QString taps_file_filter();

// Asks only where something is open; nothing: the user thought better of it.
Expected<std::optional<TakenTaps>> taps_of_file(Session& session, const QString& path,
                                                QWidget* parent);
Expected<std::optional<TakenTaps>> taps_of_text(Session& session, const QString& text,
                                                QWidget* parent);

} // namespace syntonon
