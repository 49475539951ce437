// The study's signals: which one is sent through the chain, which one the output is held against,
// and what each is.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/bench_work.h"
#include "app/model/save_sound.h"
#include "app/model/session.h"
#include "app/model/signal_commands.h"

#include <QWidget>
#include <filesystem>
#include <functional>
#include <optional>
#include <string>

class QLabel;
class QScrollArea;
class QTableWidget;
class QToolButton;

namespace syntonon {

class RecipeForm;

class SignalsPage : public QWidget {
    Q_OBJECT

public:
    // `folder` is where the study lies.
    SignalsPage(Session& session, BenchWork& bench, std::function<std::filesystem::path()> folder,
                QWidget* parent = nullptr);

    QTableWidget* table() const { return table_; }
    RecipeForm* form() const { return form_; }
    QToolButton* add_button() const { return add_; }
    // A new one of the kind, as the menu adds it.
    void add(const Recipe& recipe);
    // Read beside the window; asks whether to convert where the file has another rate.
    void add_file(const QString& path);
    // What the save menu does, once a path is chosen.
    void save(Track track, const QString& path, const SoundFormatWish& wish);
    void save_whole_file(const QString& path, const SoundFormatWish& wish);
    QToolButton* save_button() const { return save_; }

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void set_up_table();
    void set_up_offer();
    void follow_buttons();
    void refresh();
    void fill_row(int row, const QString& name, const QString& what, const std::string& id);
    void take_click(int row, int column);
    std::string id_of(int row) const;
    void fill_menu();
    void show_form();
    void fill_save_menu();
    void ask_and_save(std::optional<Track> track);
    void take_file(const Expected<FoundSound>& found);
    void say(const QString& text);

    Session& session_;
    BenchWork& bench_;
    std::function<std::filesystem::path()> folder_;
    QTableWidget* table_;
    RecipeForm* form_;
    QToolButton *add_, *duplicate_, *remove_, *save_;
    SaveSound saving_;
    bool dithers_ = true;
    QLabel* remarks_;
    QWidget* offer_;      // to convert
    QScrollArea* scroll_; // around the form
    std::optional<FoundSound> asked_;
    Beside looking_{this};
    std::string shown_; // in the form
    bool filling_ = false;
};

} // namespace syntonon
