// A blind comparison: is X the first or the second?
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/listening.h"

#include <QWidget>
#include <vector>

class QCheckBox;
class QComboBox;
class QLabel;
class QToolButton;

namespace syntonon {

// X is drawn anew for every answer, and neither the transport nor anything else shows which it is.
// The score stays hidden until it is asked for.
class BlindPage : public QWidget {
    Q_OBJECT

public:
    explicit BlindPage(Listening& listening, QWidget* parent = nullptr);

    QComboBox* first() const { return first_; }
    QComboBox* second() const { return second_; }
    QToolButton* hear_button(int which) const { return hear_[which]; } // A, B, X
    QToolButton* answer_button(int which) const { return answer_[which]; }
    QCheckBox* score_box() const { return show_score_; }
    QString score() const;
    int right() const { return right_; }
    int answered() const { return answered_; }
    bool x_is_second() const { return x_is_second_; } // for tests

private:
    void refresh();
    void hear(int which);
    void answer(bool second);
    void start_over();
    void draw();

    Listening& listening_;
    QComboBox *first_, *second_;
    QToolButton *hear_[3], *answer_[2];
    QCheckBox* show_score_;
    QLabel* score_;
    std::vector<ListenChoice> shown_;
    bool x_is_second_ = false, heard_x_ = false; // since it was drawn
    int right_ = 0, answered_ = 0;
};

} // namespace syntonon
