// The numbers behind the selected stage.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QWidget>

class QLabel;
class QTreeWidget;

namespace syntonon {

class WorkingPane : public QWidget {
    Q_OBJECT

public:
    explicit WorkingPane(Session& session, QWidget* parent = nullptr);
    QTreeWidget* tree() const { return tree_; }

protected:
    void showEvent(QShowEvent* event) override;

private:
    void refresh();
    void copy() const;

    Session& session_;
    QLabel* method_;
    QTreeWidget* tree_;
};

} // namespace syntonon
