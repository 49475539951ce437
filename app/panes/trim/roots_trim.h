// The panel of stages by their roots: the root in hand in all the ways one can say it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/trim/trim_panel.h"
#include "core/design/root_numbers.h"

#include <array>

class QLabel;
class QToolButton;

namespace syntonon {

class Field;
struct RootRef;

class RootsTrim : public TrimPanel {
    Q_OBJECT

public:
    explicit RootsTrim(Session& session, QWidget* parent = nullptr);
    void show_stage(const Stage& stage) override;
    bool needs_all_room() const override { return true; }

    Field* field(RootNumber which) const { return fields_[static_cast<std::size_t>(which)]; }
    Field* gain() const { return gain_; }
    QLabel* root() const { return root_; }
    void go_on(int by); // to the next root, or the one before

private:
    std::vector<RootRef> roots_of_stage() const; // pairs once
    std::optional<RootRef> shown_root() const;
    void take(RootNumber which, double value, bool continuing);
    void take_gain(double value, bool continuing);
    void show_root();

    Session& session_;
    QToolButton *before_, *next_;
    QLabel *root_, *place_;
    std::array<Field*, all_root_numbers.size()> fields_{};
    Field* gain_;
};

} // namespace syntonon
