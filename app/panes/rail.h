// The chain as the signal flows, top to bottom.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QScrollArea>
#include <QTimer>
#include <optional>
#include <string>
#include <vector>

class QLabel;
class QLayout;
class QVBoxLayout;
class QPushButton;

namespace syntonon {

class StageCard;

class Rail : public QScrollArea {
    Q_OBJECT

public:
    explicit Rail(Session& session, QWidget* parent = nullptr);

    // In the order of the signal, what a stage holds after it.
    const std::vector<StageCard*>& cards() const { return cards_; }
    // The buttons that add to a branch, in the same order.
    std::vector<QPushButton*> branch_buttons() const;
    QPushButton* add_button() const { return add_; }
    QLabel* identities() const { return identities_; } // what holds exactly, a line each

signals:
    void rename_asked_for(const std::string& id);

private:
    void refresh();
    void show_identities();
    void show_selection();
    void drag_to(StageCard* card, const QPoint& global);
    void drop(StageCard* card);
    // A card where it stands, and the foot of a branch, where stages are added to it.
    struct Placed {
        std::string id;
        Slot slot;
        std::size_t chains; // that the stage holds
        bool operator==(const Placed&) const = default;
    };
    struct Foot {
        QPushButton* button;
        Slot slot;
        QLayout* beside; // of all branches, where they come back to the track; else null
    };
    // What is written above a chain: its factor.
    struct Head {
        QLabel* label;
        std::string stage;
        std::size_t chain;
    };
    // What a stage holds, where it is drawn with a bracket or a line running back.
    struct Group {
        ChainsLayout layout;
        QVBoxLayout* box;
        QWidget *head, *last;
    };
    std::vector<Placed> placed_stages() const;
    void match_cards(std::size_t count);
    void lay_out();
    void lay_out_chain(const Chain& chain, const Slot& first, QLayout* beside, QVBoxLayout* into,
                       std::size_t& card);
    void lay_out_branches(const Stage& stage, QVBoxLayout* into, std::size_t& card);
    void lay_out_group(const Stage& stage, ChainsLayout layout, QVBoxLayout* into,
                       std::size_t& card);
    QLabel* add_head(const Stage& stage, std::size_t chain, QVBoxLayout* into);
    void show_heads();
    std::optional<Slot> slot_at(const QPoint& at) const; // where a card dropped there would stand
    void fill_add_menu(QPushButton* button, const std::optional<Slot>& slot);

    class Track;
    Session& session_;
    Track* track_;
    QVBoxLayout* list_;
    QPushButton* add_;
    QLabel* identities_;
    QTimer look_for_identities_;
    std::vector<StageCard*> cards_;
    std::vector<Placed> shown_;
    std::vector<Foot> feet_;
    std::vector<Head> heads_;
    std::vector<Group> groups_;
    std::optional<Slot> drop_;
    std::string shown_source_; // what the track names as its input
};

} // namespace syntonon
