// Every channel with every requirement.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QWidget>

class QLabel;
class QTreeWidget;
class QTreeWidgetItem;

namespace syntonon {

// A click goes to the finding's channel and asks for a closer look at it.
class VerdictPane : public QWidget {
    Q_OBJECT

public:
    explicit VerdictPane(Session& session, QWidget* parent = nullptr);
    QTreeWidget* tree() const { return tree_; }
    QString summary() const;

signals:
    void finding_chosen(const Finding& finding);

protected:
    void showEvent(QShowEvent* event) override;

private:
    void refresh();
    void show_channel(QTreeWidgetItem& item, const Channel& channel, bool fresh);
    void go_to(const QTreeWidgetItem& item);
    void fit_rows(); // as high as the names need in their column

    Session& session_;
    QLabel* summary_;
    QTreeWidget* tree_;
};

} // namespace syntonon
