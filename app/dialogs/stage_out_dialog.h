// The selected stage out to a file: its parameters, for any study, or its taps.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/exchange/taps_file.h"
#include "core/filter/taps.h"
#include "core/study/file_names.h"

#include <QDialog>
#include <optional>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;
class QSpinBox;
class QWidget;

namespace syntonon {

class StageOutDialog : public QDialog {
    Q_OBJECT

public:
    // A stage must be selected and have a filter.
    explicit StageOutDialog(Session& session, QWidget* parent = nullptr);

    QComboBox* format() const { return format_; } // 0: parameters, then the formats of taps
    QLineEdit* pattern() const { return pattern_; }
    QLineEdit* folder() const { return folder_; }
    QCheckBox* head() const { return head_; }
    QSpinBox* bits() const { return bits_; }
    QSpinBox* fraction() const { return fraction_; }
    QPushButton* save_button() const { return save_; }
    QString path() const; // empty: the pattern makes no name
    QString facts() const;
    QString words() const { return words_; } // of what was saved

private:
    void add_rows();
    QWidget* pattern_row();
    QWidget* folder_row();
    std::optional<TapsFormat> taps_format() const;
    TapsFileWriting writing() const;
    void show_what_comes();
    void save();

    Session& session_;
    Stage stage_;
    TapValues taps_; // null: it has none
    FileWords file_words_;
    QComboBox* format_;
    QCheckBox* head_;
    QSpinBox *bits_, *fraction_;
    QLineEdit *pattern_, *folder_;
    QLabel *name_, *facts_;
    QPushButton* save_;
    QString words_;
};

} // namespace syntonon
