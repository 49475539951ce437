// A tone pulled along the frequencies: what the running chain makes of it, against what its
// response says. SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/listening.h"
#include "app/model/session.h"

#include <QWidget>

class QCheckBox;
class QLabel;
class QToolButton;

namespace syntonon {

class QuantityEdit;

class TonePage : public QWidget {
    Q_OBJECT

public:
    TonePage(Session& session, Listening& listening, QWidget* parent = nullptr);

    QCheckBox* switch_box() const { return on_; }
    QuantityEdit* frequency() const { return frequency_; }
    QToolButton* sweep_button() const { return sweep_; }
    QString reading() const;
    QWidget* plot() const { return plot_; }

private:
    class Plot;
    void refresh();

    Session& session_;
    Listening& listening_;
    QCheckBox* on_;
    QuantityEdit* frequency_;
    QToolButton *sweep_, *forget_;
    QLabel* reading_;
    QWidget* plot_;
};

} // namespace syntonon
