// The selected stage's fields and coefficients.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QWidget>
#include <map>
#include <string>

class QLabel;
class QStackedWidget;

namespace syntonon {

class StillText;
class TrimPanel;

class TrimStrip : public QWidget {
    Q_OBJECT

public:
    explicit TrimStrip(Session& session, QWidget* parent = nullptr);

    TrimPanel* panel() const; // the one that is shown; null without a stage
    void focus_first_field();

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void refresh();
    void restyle();
    TrimPanel* panel_for(const StageSpec& spec);
    void show_panel(QWidget* shown);

    Session& session_;
    QLabel *title_, *position_;
    StillText* coefficients_;
    QLabel *coefficients_title_, *hint_;
    QStackedWidget* panels_;
    std::map<std::string, TrimPanel*, std::less<>> by_kind_; // those made so far
};

} // namespace syntonon
