// The panel of taps: numbers that come and go as text or as files.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/trim/trim_panel.h"

class QLabel;

namespace syntonon {

struct TakenTaps;

class TapsTrim : public TrimPanel {
    Q_OBJECT

public:
    explicit TapsTrim(Session& session, QWidget* parent = nullptr);
    void show_stage(const Stage& stage) override;
    // Refused taps leave the stage as it is and say why.
    void take(const Expected<TakenTaps>& taps);
    void take_file(const QString& path);
    void paste();
    void copy();
    QLabel* problem() const { return problem_; }

private:
    void choose_file();
    void save();
    void show_words(const QString& text, bool is_problem);

    Session& session_;
    QLabel *summary_, *problem_;
    QString said_; // of the taps that are shown
};

} // namespace syntonon
