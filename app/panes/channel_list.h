// All channels in a list that is typed to filter, each with the mark of its verdict.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QFrame>

class QLineEdit;
class QListWidget;
class QListWidgetItem;

namespace syntonon {

// A popup: Enter takes the first that matches or the chosen one, Escape none.
class ChannelList : public QFrame {
    Q_OBJECT

public:
    explicit ChannelList(Session& session, QWidget* parent = nullptr);

    QLineEdit* filter() const { return filter_; }
    QListWidget* list() const { return list_; }

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void fill();
    void apply_filter();
    void take(const QListWidgetItem* item);

    Session& session_;
    QLineEdit* filter_;
    QListWidget* list_;
};

} // namespace syntonon
