// A signal before and after the chain, above one another, and the equation between them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/model/test_signal.h"

#include <QWidget>
#include <vector>

class QPlainTextEdit;

namespace syntonon {

class SignalsView : public QWidget {
    Q_OBJECT

public:
    SignalsView(Session& session, TestSignal& signal, QWidget* parent = nullptr);

    const std::vector<double>& input() const { return in_; }
    const std::vector<double>& output() const { return out_; } // empty while there is no chain
    QString equation() const;

signals:
    void worked_out();

protected:
    void showEvent(QShowEvent* event) override;

private:
    class Plot;
    void refresh();

    Session& session_;
    TestSignal& signal_;
    std::vector<double> in_, out_;
    Plot *in_plot_, *out_plot_;
    QPlainTextEdit* equation_;
};

} // namespace syntonon
