// The fields of one signal: its name, length and what its kind has.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/signal/recipe.h"

#include <QWidget>
#include <functional>
#include <string>
#include <vector>

class QComboBox;
class QGridLayout;
class QLabel;
class QLineEdit;
class QPlainTextEdit;

namespace syntonon {

class QuantityEdit;

class RecipeForm : public QWidget {
    Q_OBJECT

public:
    explicit RecipeForm(Session& session, QWidget* parent = nullptr);

    // Of the study; an id that is not there: nothing is shown.
    void show_signal(const std::string& id);
    const std::string& shown() const { return id_; }
    QuantityEdit* field(std::string_view key) const; // of the shown kind; null without it
    QuantityEdit* length() const { return length_; }
    QComboBox* length_unit() const { return length_unit_; }
    QPlainTextEdit* numbers() const { return numbers_; } // null but for numbers
    QString problem() const;

private:
    void build(const Recipe& recipe);
    void fill(const Signal& signal);
    void edit(const QString& name, const std::function<void(Signal&)>& change,
              const QString& gesture = {});
    template <class Spec>
    void add_fields(const Spec& spec);
    // What a kind has beside numbers.
    template <class Spec>
    void add_rest(const Spec&) {}
    void add_rest(const SweptToneRecipe&);
    void add_rest(const SawChordRecipe&);
    void add_rest(const NotesRecipe&);
    void add_rest(const NumbersRecipe&);
    void add_rest(const FileRecipe&);
    void add_rest(const MixRecipe&);
    void add_row(const QString& caption, QWidget* widget, bool wide = false);
    void take_numbers();
    void show_problem(const QString& text);
    QComboBox* signal_choice(std::string MixRecipe::*member);

    Session& session_;
    std::string id_;
    std::string_view kind_;
    QGridLayout* grid_;
    int places_ = 0; // taken in the grid, two a row
    QLineEdit* name_;
    QuantityEdit* length_ = nullptr;
    QComboBox* length_unit_ = nullptr;
    QPlainTextEdit* numbers_ = nullptr;
    QLabel* problem_;
    struct Box {
        std::string key;
        QuantityEdit* edit;
    };
    std::vector<Box> boxes_;
    std::vector<std::function<void(const Signal&)>> fillers_; // of what is no number
};

} // namespace syntonon
