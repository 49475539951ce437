// Microphones' own responses, and whose measurements they are taken out of.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QWidget>
#include <optional>

class QLabel;
class QPushButton;
class QTableWidget;

namespace syntonon {

class MicrophonePage : public QWidget {
    Q_OBJECT

public:
    explicit MicrophonePage(Session& session, QWidget* parent = nullptr);

    QTableWidget* table() const { return table_; }
    QPushButton* import_button() const { return import_; }
    QPushButton* use_button() const { return use_; }   // for the channel's positions
    QPushButton* none_button() const { return none_; } // for none of them
    QPushButton* remove_button() const { return remove_; }
    QString said() const;
    // Frequency, dB and, where there is a third column, degrees.
    void import(const QString& path);
    void fill(); // now; else when it is looked at

protected:
    void showEvent(QShowEvent* event) override;

private:
    void follow();
    void refresh();
    void take(const Expected<void>& done);
    std::string chosen() const; // its id; empty: none
    class Drawing;

    Session& session_;
    QTableWidget* table_;
    Drawing* drawing_;
    QLabel* said_;
    QPushButton *import_, *use_, *none_, *remove_;
    std::optional<Study> seen_;
    int seen_channel_ = -1;
};

} // namespace syntonon
