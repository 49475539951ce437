// The panels of kinds that are little more than their fields.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/trim/fields_trim.h"

class QCheckBox;
class QComboBox;

namespace syntonon {

class GainTrim : public FieldsTrim {
    Q_OBJECT

public:
    explicit GainTrim(Session& session, QWidget* parent = nullptr);
    void show_stage(const Stage& stage) override;
    QCheckBox* invert() const { return invert_; }

private:
    QCheckBox* invert_;
};

class DelayTrim : public FieldsTrim {
    Q_OBJECT

public:
    explicit DelayTrim(Session& session, QWidget* parent = nullptr);
    void show_stage(const Stage& stage) override;
    QComboBox* interpolation() const { return interpolation_; }

private:
    void take_interpolation(int index);

    QComboBox* interpolation_;
};

} // namespace syntonon
