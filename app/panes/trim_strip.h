// The selected stage's fields and coefficients.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QWidget>

class QLabel;
class QStackedWidget;

namespace syntonon {

class ParametricTrim;
struct ParametricSpec;

class TrimStrip : public QWidget {
    Q_OBJECT

public:
    explicit TrimStrip(Session& session, QWidget* parent = nullptr);

    ParametricTrim* parametric() const { return parametric_; }
    void focus_first_field();

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void refresh();
    void restyle();
    QWidget* panel_for(const ParametricSpec& spec); // a kind adds its overload

    Session& session_;
    QLabel *title_, *position_, *coefficients_, *coefficients_title_, *hint_;
    QStackedWidget* panels_;
    ParametricTrim* parametric_;
};

} // namespace syntonon
