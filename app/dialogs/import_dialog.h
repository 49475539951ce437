// A measured curve in: what the file holds, and what is done with it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/curve_commands.h"
#include "app/model/session.h"
#include "core/curve/import_text.h"

#include <QDialog>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace syntonon {

class ImportDialog : public QDialog {
    Q_OBJECT

public:
    // Reads the file at once; problem() says when that failed.
    // `likely`: what the curve is used as unless the user says otherwise.
    ImportDialog(Session& session, const QString& path, UseAs likely, QWidget* parent = nullptr);

    QString facts() const;
    bool can_import() const { return imported_.has_value(); }
    QCheckBox* centre_choice() const { return centre_; }
    QComboBox* use_choice() const { return use_; } // its data: a UseAs
    QPushButton* import_button() const { return import_; }

private:
    void offer_uses(UseAs likely);
    void read();
    void take();
    std::optional<double> level_to_subtract() const;

    Session& session_;
    QString path_;
    std::optional<ImportedCurve> imported_;
    QLineEdit* name_;
    QComboBox *unit_, *use_;
    QCheckBox* centre_;
    QLabel* facts_;
    QPushButton* import_;
};

} // namespace syntonon
