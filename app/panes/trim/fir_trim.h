// The panel of designed FIRs.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/trim/fields_trim.h"
#include "core/design/fir.h"

#include <functional>
#include <vector>

class QCheckBox;
class QComboBox;
class QLabel;

namespace syntonon {

// The method, what states it, and its numbers; under them length, order and delay beside one
// another, so that none of them is to be guessed.
class FirTrim : public FieldsTrim {
    Q_OBJECT

public:
    explicit FirTrim(Session& session, QWidget* parent = nullptr);
    void show_stage(const Stage& stage) override;
    bool needs_all_room() const override { return true; }
    void edit(const QString& name, const QString& gesture,
              const std::function<void(StageSpec&)>& change) override;

    QComboBox* method() const { return method_; }
    QComboBox* stated_by() const { return stated_by_; }
    QComboBox* band() const { return band_; }
    QComboBox* window() const { return window_; }
    QComboBox* phase() const { return phase_; }
    QCheckBox* keeps_before() const { return keeps_before_; }
    QString words() const;

private:
    // A choice between the names of an Enum, that shows itself where `value` points to something.
    template <class Enum>
    QComboBox* add_choice(const QString& caption, int width,
                          std::span<const NamedValue<Enum>> names, Enum* (*value)(FirSpec&));
    QComboBox* add_box(const QString& caption, int width);
    void change(const QString& name, const std::function<void(FirSpec&)>& change);
    void take_method(int index);
    void take_stated_by(int index);
    void show_words(const FirSpec& spec);
    void resizeEvent(QResizeEvent* event) override;

    QComboBox *method_ = nullptr, *stated_by_ = nullptr, *band_ = nullptr, *window_ = nullptr,
              *phase_ = nullptr;
    std::vector<std::function<void(FirSpec)>> show_; // each choice shows where it stands
    QLabel* words_;
    QCheckBox* keeps_before_;
};

} // namespace syntonon
