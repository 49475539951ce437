// The fields of a parametric stage.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/design/parametric.h"

#include <QWidget>

class QComboBox;
class QLabel;

namespace syntonon {

class Field;

class ParametricTrim : public QWidget {
    Q_OBJECT

public:
    explicit ParametricTrim(Session& session, QWidget* parent = nullptr);

    // Shows the selected stage, which must be parametric.
    void show_stage(const ParametricSpec& spec);

    Field* frequency() const { return frequency_; }
    Field* gain() const { return gain_; }
    Field* q() const { return q_; }
    Field* other_width() const { return bandwidth_; }
    Field* slope() const { return slope_; }
    QComboBox* shape() const { return shape_; }
    QComboBox* order() const { return order_; }

private:
    using Change = std::function<void(ParametricSpec&)>;
    void edit(const QString& name, const QString& what, bool continuing, const Change& change);
    void connect_field(Field* field, const QString& name, const char* what,
                       std::function<void(ParametricSpec&, double)> set);
    void show_problems();
    void show_widths(const ParametricSpec& spec);

    Session& session_;
    QComboBox *shape_, *order_;
    Field *frequency_, *gain_, *q_, *bandwidth_, *slope_;
};

} // namespace syntonon
