// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/rail.h"

#include "app/model/stage_commands.h"
#include "app/panes/stage_card.h"
#include "app/panes/trim/new_stages.h"
#include "app/widgets/theme.h"

#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

namespace syntonon {

// The track that the signal runs along, with its ends and a branch to every card.
class Rail::Track : public QWidget {
public:
    explicit Track(Rail& rail) : rail_(rail) { setAttribute(Qt::WA_OpaquePaintEvent); }

protected:
    void paintEvent(QPaintEvent*) override {
        const Theme& t = theme();
        QPainter painter(this);
        painter.fillRect(rect(), t.panel);
        painter.setRenderHint(QPainter::Antialiasing);
        constexpr int x = 22, top = 20;
        const int bottom = height() - 16;
        painter.setPen(QPen(t.ink, 1.4));
        painter.drawLine(x, top + 5, x, bottom - 5);
        for (const StageCard* card : rail_.cards_) {
            const int y = card->geometry().center().y();
            painter.drawLine(x, y, card->x(), y);
            painter.setBrush(t.ink);
            painter.drawEllipse(QPointF(x, y), 2, 2);
        }
        painter.setBrush(t.panel);
        painter.drawEllipse(QPointF(x, top), 5, 5);
        painter.setBrush(t.ink);
        painter.drawEllipse(QPointF(x, bottom), 5, 5);
        painter.setFont(text_font(11));
        painter.setPen(t.soft);
        const Channel* channel = rail_.session_.channel();
        const Curve* measured =
            channel != nullptr ? measured_of(rail_.session_.study(), *channel) : nullptr;
        const QString in = measured != nullptr
                               ? tr("in · %1").arg(QString::fromStdString(measured->name))
                               : tr("in");
        painter.drawText(QRect(36, top - 9, width() - 44, 18), Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(in, Qt::ElideRight, width() - 44));
        painter.drawText(QRect(36, bottom - 9, width() - 44, 18), Qt::AlignLeft | Qt::AlignVCenter,
                         tr("out"));
        if (rail_.drop_index_ >= 0) {
            const auto i = static_cast<std::size_t>(rail_.drop_index_);
            const int y = rail_.cards_.empty()      ? top + 20
                          : i < rail_.cards_.size() ? rail_.cards_[i]->y() - 4
                                                    : rail_.cards_.back()->geometry().bottom() + 5;
            painter.fillRect(36, y - 1, width() - 44, 3, t.copper);
        }
    }

private:
    Rail& rail_;
};

Rail::Rail(Session& session, QWidget* parent)
    : QScrollArea(parent), session_(session), track_(new Track(*this)),
      list_(new QVBoxLayout(track_)), add_(new QPushButton(tr("add a stage"))) {
    setFrameShape(QFrame::NoFrame);
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFocusPolicy(Qt::NoFocus);
    setAccessibleName(tr("Rail: the stages of the channel"));
    list_->setContentsMargins(36, 38, 8, 40);
    list_->setSpacing(8);
    add_->setFlat(true);
    add_->setObjectName("add_stage");
    add_->setStyleSheet("QPushButton { border: 1px dashed palette(mid); background: transparent; "
                        "padding: 5px; } QPushButton::menu-indicator { width: 0; }");
    add_->setAccessibleName(tr("Add a stage"));
    list_->addWidget(add_);
    list_->addStretch(1);
    setWidget(track_);
    fill_add_menu();
    connect(&session_, &Session::analysis_changed, this, &Rail::refresh);
    connect(&session_, &Session::selection_changed, this, &Rail::show_selection);
    refresh();
}

void Rail::fill_add_menu() {
    auto* menu = new QMenu(add_);
    for (const NewStage& choice : new_stages()) {
        menu->addAction(choice.title, this, [this, choice] { add_stage(session_, choice.spec); });
    }
    add_->setMenu(menu);
}

void Rail::refresh() {
    const auto count = session_.channel() != nullptr ? session_.channel()->stages.size() : 0;
    while (cards_.size() > count) {
        // Taken out at once, deleted later: the card may be the sender of what brought us here.
        list_->removeWidget(cards_.back());
        cards_.back()->hide();
        cards_.back()->deleteLater();
        cards_.pop_back();
    }
    while (cards_.size() < count) {
        auto* card = new StageCard(session_, static_cast<int>(cards_.size()), track_);
        list_->insertWidget(static_cast<int>(cards_.size()), card);
        connect(card, &StageCard::dragged, this,
                [this, card](const QPoint& at) { drag_to(card, at); });
        connect(card, &StageCard::dropped, this, [this, card] { drop(card); });
        connect(card, &StageCard::rename_asked_for, this,
                [this, card] { emit rename_asked_for(card->index()); });
        QWidget::setTabOrder(cards_.empty() ? add_ : static_cast<QWidget*>(cards_.back()), card);
        cards_.push_back(card);
        card->show();
    }
    for (StageCard* card : cards_) {
        card->show_stage();
    }
    const Channel* channel = session_.channel();
    const Curve* measured = channel != nullptr ? measured_of(session_.study(), *channel) : nullptr;
    const std::string source = measured != nullptr ? measured->name : std::string();
    if (shown_count_ != cards_.size() || shown_source_ != source) { // a drag changes neither
        shown_count_ = cards_.size();
        shown_source_ = source;
        track_->update();
    }
}

void Rail::show_selection() {
    track_->update();
    const int selected = session_.selection().stage;
    for (StageCard* card : cards_) {
        card->update();
        if (card->index() == selected) {
            ensureWidgetVisible(card, 0, 20);
            // Keyboard selection follows into the card when the rail had the focus.
            for (const StageCard* other : cards_) {
                if (other->hasFocus()) {
                    card->setFocus();
                    break;
                }
            }
        }
    }
}

int Rail::index_at(int y) const {
    int index = 0;
    for (const StageCard* card : cards_) {
        index += y > card->geometry().center().y() ? 1 : 0;
    }
    return index;
}

void Rail::drag_to(StageCard* card, const QPoint& global) {
    const int before = index_at(track_->mapFromGlobal(global).y());
    drop_index_ = before == card->index() || before == card->index() + 1 ? -1 : before;
    track_->update();
}

void Rail::drop(StageCard* card) {
    const int before = std::exchange(drop_index_, -1);
    track_->update();
    if (before >= 0) {
        move_stage(session_, card->index(), before > card->index() ? before - 1 : before);
    }
}

} // namespace syntonon
