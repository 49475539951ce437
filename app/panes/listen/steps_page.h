// The difference equation at work: value by value, and which products made each.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/bench_work.h"
#include "app/model/session.h"
#include "core/exchange/worked_equations.h"

#include <QWidget>
#include <optional>

class QLabel;
class QPlainTextEdit;

namespace syntonon {

class SamplesTable;

class StepsPage : public QWidget {
    Q_OBJECT

public:
    StepsPage(Session& session, BenchWork& bench, QWidget* parent = nullptr);

    SamplesTable* table() const { return table_; }
    QString equation() const;
    QString products() const; // of the chosen row
    QString agreement() const;

protected:
    void showEvent(QShowEvent* event) override;

private:
    void refresh();
    void show_products();
    QString compared() const;

    Session& session_;
    BenchWork& bench_;
    QPlainTextEdit *equation_, *products_;
    SamplesTable* table_;
    QLabel* agreement_;
    std::optional<Expected<WorkedEquations>> worked_;
    bool stale_ = true;
};

} // namespace syntonon
