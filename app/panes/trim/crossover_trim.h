// The panel of a crossover's way: what all ways share, and which this one is.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/trim/fields_trim.h"

class QComboBox;

namespace syntonon {

class CrossoverTrim : public FieldsTrim {
    Q_OBJECT

public:
    explicit CrossoverTrim(Session& session, QWidget* parent = nullptr);
    void show_stage(const Stage& stage) override;

    QComboBox* family() const { return family_; }
    QComboBox* ways() const { return ways_; }
    QComboBox* way() const { return way_; }

private:
    void choose_family(int index);

    QComboBox *family_, *ways_, *way_;
};

} // namespace syntonon
