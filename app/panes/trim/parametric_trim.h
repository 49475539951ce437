// The fields of a parametric stage.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/trim/trim_panel.h"
#include "core/design/parametric.h"

class QComboBox;
class QLabel;

namespace syntonon {

class Field;

class ParametricTrim : public TrimPanel {
    Q_OBJECT

public:
    explicit ParametricTrim(Session& session, QWidget* parent = nullptr);

    void show_stage(const Stage& stage) override;

    Field* frequency() const { return frequency_; }
    Field* gain() const { return gain_; }
    Field* q() const { return q_; }
    Field* other_width() const { return bandwidth_; }
    Field* slope() const { return slope_; }
    QComboBox* shape() const { return shape_; }
    QComboBox* order() const { return order_; }
    QComboBox* mapping() const { return mapping_; }

private:
    using Change = std::function<void(ParametricSpec&)>;
    void edit(const QString& name, const QString& what, bool continuing, const Change& change);
    void connect_field(Field* field, const QString& name, const char* what,
                       std::function<void(ParametricSpec&, double)> set);
    void take_mapping(int index);
    void show_problems();
    void show_widths(const ParametricSpec& spec);

    Session& session_;
    QComboBox *shape_, *order_, *mapping_;
    QWidget* mapping_box_;
    Field *frequency_, *gain_, *q_, *bandwidth_, *slope_;
};

} // namespace syntonon
