// What is known of a channel's words: noise, headroom, limit cycles; and the search for better
// ones. SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/words_work.h"

#include <QTimer>
#include <QWidget>

class QLabel;
class QPushButton;
class QTableWidget;

namespace syntonon {

class LevelPlot;

class WordsPage : public QWidget {
    Q_OBJECT

public:
    WordsPage(Session& session, WordsWork& work, QWidget* parent = nullptr);

    void show_result(const std::string& delivery);
    QPushButton* search_button() const { return search_; }
    QPushButton* nearest_button() const { return nearest_; }
    QTableWidget* facts() const { return facts_; }
    QTableWidget* sources() const { return sources_; }
    LevelPlot* spectrum() const { return spectrum_; } // of the noise
    QString status() const;

private:
    void show_search();
    void show_facts();
    void show_sources();
    void show_spectrum();
    void say(const QString& words, bool is_problem);

    Session& session_;
    WordsWork& work_;
    std::string delivery_;
    QLabel* status_;
    QPushButton *search_, *nearest_;
    QTableWidget *facts_, *sources_;
    LevelPlot* spectrum_;
    QTimer progress_;
};

} // namespace syntonon
