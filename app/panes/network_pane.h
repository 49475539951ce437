// What is to be known of the network that the selected stage is, or stands in.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/network_rows.h"

#include <QWidget>
#include <memory>
#include <string>
#include <vector>

class QTreeWidget;
class QTreeWidgetItem;

namespace syntonon {

class LaneStack;

class NetworkPane : public QWidget {
    Q_OBJECT

public:
    NetworkPane(Session& session, LaneStack& lanes, QWidget* parent = nullptr);
    QTreeWidget* tree() const { return tree_; }

protected:
    void showEvent(QShowEvent* event) override;

private:
    void refresh();
    void refresh_curves(); // their check boxes
    void show_section(int index, const NetworkSection& section);
    void show_row(QTreeWidgetItem& head, int index, const NetworkRow& row);
    void take_check(QTreeWidgetItem* item);
    void take_click(QTreeWidgetItem* item);

    Session& session_;
    LaneStack& lanes_;
    QTreeWidget* tree_;
    bool is_filling_ = false;
    std::shared_ptr<const ChannelAnalysis> shown_;
    std::string shown_stage_;
};

} // namespace syntonon
