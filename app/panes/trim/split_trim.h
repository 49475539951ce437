// The branches of a split: their factors, one more, one less.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/trim/trim_panel.h"

#include <vector>

class QHBoxLayout;
class QPushButton;

namespace syntonon {

class Field;

class SplitTrim : public TrimPanel {
    Q_OBJECT

public:
    explicit SplitTrim(Session& session, QWidget* parent = nullptr);
    void show_stage(const Stage& stage) override;
    Field* factor(std::size_t branch) const { return factors_.at(branch); }
    QPushButton* more() const { return more_; }
    QPushButton* fewer() const { return fewer_; }

private:
    void take_factor(std::size_t branch, double value, bool continuing);
    void add_branch();
    void remove_branch();

    Session& session_;
    QHBoxLayout* row_;
    std::vector<Field*> factors_;
    QPushButton *more_, *fewer_;
};

} // namespace syntonon
