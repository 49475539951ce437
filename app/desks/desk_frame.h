// The frame that all desks share: left, middle, and two companions, with sizes of each desk's own.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/desks/desk.h"

#include <QJsonObject>
#include <QList>
#include <QWidget>
#include <functional>
#include <optional>

class QSplitter;

namespace syntonon {

class Companion;
class PageStack;

// What stands where. Desks may share a widget at the left.
struct DeskParts {
    QWidget *left = nullptr, *middle = nullptr;
    Companion *upper = nullptr, *lower = nullptr;
    QList<int> columns = {176, 664, 440}; // at 1280 pixels
    QList<int> rows = {452, 180};
    bool trims = false; // the trim strip stays
};

class DeskFrame : public QWidget {
    Q_OBJECT

public:
    explicit DeskFrame(QWidget* parent = nullptr);

    // A desk is made when it is first shown.
    void add_desk(Desk desk, std::function<DeskParts()> make);
    // Now, if it is not there yet, styled and laid out, so that showing it is quick.
    void make_desk(Desk desk);
    void show_desk(Desk desk);
    Desk desk() const { return shown_; }
    bool has_desk(Desk desk) const { return desks_[index(desk)].parts.has_value(); }
    // Left, middle, companions, as they stand.
    QList<int> columns() const;
    void set_columns(const QList<int>& columns);
    const DeskParts& parts() const { return *desks_[index(shown_)].parts; }

    // Sizes and pages of every desk that was shown, and which one is.
    QJsonObject arrangement() const;
    // What makes no sense in it is left as it is.
    void arrange(const QJsonObject& arrangement);

    QSize minimumSizeHint() const override;

signals:
    void desk_shown(Desk desk);

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    struct Place {
        std::function<DeskParts()> make;
        std::optional<DeskParts> parts;
        QSplitter *work = nullptr, *companions = nullptr; // middle and companions; the latter
        QList<int> columns;                               // as last seen
        QJsonObject remembered;
    };
    static std::size_t index(Desk desk) { return static_cast<std::size_t>(desk); }
    void build(Place& place);
    static void use_remembered(Place& place);
    void keep_sizes();
    void apply_sizes();

    std::array<Place, all_desks.size()> desks_;
    QSplitter* frame_; // between what is left and the rest
    PageStack* left_;  // what desks share stays where it is: to move it would cost more
    PageStack* work_;
    Desk shown_ = Desk::shape;
    bool is_shown_ = false;
};

} // namespace syntonon
