// Coefficients out: the layout, a preview of the file, and proof that what was written reads back.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/exchange/deliver.h"

#include <QDialog>

class QCheckBox;
class QComboBox;
class QFormLayout;
class QLabel;
class QLineEdit;
class QPlainTextEdit;
class QPushButton;
class QSpinBox;

namespace syntonon {

class ExportDialog : public QDialog {
    Q_OBJECT

public:
    explicit ExportDialog(Session& session, QWidget* parent = nullptr);

    // What the controls say now, or what is wrong with it.
    Expected<Delivery> delivery() const;
    void set_folder(const QString& folder);
    QString preview() const;
    QString status() const;
    QPushButton* write_button() const { return write_; }
    QComboBox* format_choice() const { return format_; }
    QCheckBox* replace_choice() const { return replace_; }

private:
    void build();
    void fill_choices();
    QFormLayout* form_layout();
    void use_layout(const Delivery& delivery);
    void refresh();
    void write();
    void keep_in_study();
    void say(const QString& text, bool problem);
    Expected<std::vector<PlannedFile>> plan() const;

    Session& session_;
    QComboBox *start_from_, *channels_, *format_, *number_, *feedback_, *normalisation_, *order_;
    QSpinBox* digits_;
    QLineEdit *name_, *folder_;
    QPlainTextEdit* preview_;
    QLabel *files_, *status_;
    QCheckBox* replace_;
    QPushButton *write_, *keep_;
};

} // namespace syntonon
