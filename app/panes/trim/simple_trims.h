// The panels of kinds that are little more than their fields.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/trim/fields_trim.h"
#include "core/base/problem.h"

class QCheckBox;
class QComboBox;
class QLabel;

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

// Taps come and go as text.
class TapsTrim : public TrimPanel {
    Q_OBJECT

public:
    explicit TapsTrim(Session& session, QWidget* parent = nullptr);
    void show_stage(const Stage& stage) override;
    // Refused taps leave the stage as it is and say why.
    void take(const Expected<std::vector<double>>& taps);
    void paste();
    void copy();
    QLabel* problem() const { return problem_; }

private:
    void choose_file();
    void show_problem(const QString& text);

    Session& session_;
    QLabel *summary_, *problem_;
};

} // namespace syntonon
