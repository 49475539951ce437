// The chain as the signal flows, top to bottom.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QScrollArea>
#include <string>
#include <vector>

class QVBoxLayout;
class QPushButton;

namespace syntonon {

class StageCard;

class Rail : public QScrollArea {
    Q_OBJECT

public:
    explicit Rail(Session& session, QWidget* parent = nullptr);

    const std::vector<StageCard*>& cards() const { return cards_; }
    QPushButton* add_button() const { return add_; }

signals:
    void rename_asked_for(int index);

private:
    void refresh();
    void show_selection();
    void drag_to(StageCard* card, const QPoint& global);
    void drop(StageCard* card);
    int index_at(int y) const; // where a card dropped there would stand
    void fill_add_menu();

    class Track;
    Session& session_;
    Track* track_;
    QVBoxLayout* list_;
    QPushButton* add_;
    std::vector<StageCard*> cards_;
    int drop_index_ = -1;
    std::size_t shown_count_ = 0;
    std::string shown_source_; // what the track names as its input
};

} // namespace syntonon
