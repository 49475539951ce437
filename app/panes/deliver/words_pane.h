// The chosen delivery's words of the selected channel: their levels, and which structure and word
// does what is asked. SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/words_work.h"

#include <QWidget>

class QLabel;
class QTableWidget;

namespace syntonon {

class WordsPane : public QWidget {
    Q_OBJECT

public:
    explicit WordsPane(WordsWork& work, QWidget* parent = nullptr);

    void show_result(const QString& channel); // its name
    QTableWidget* table() const { return table_; }
    QString problem() const;

signals:
    void structure_chosen(Structure structure);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void show_table();

    WordsWork& work_;
    QLabel *title_, *problem_, *hint_;
    QWidget* drawing_;
    QTableWidget* table_;
};

} // namespace syntonon
