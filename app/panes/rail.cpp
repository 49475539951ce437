// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/rail.h"

#include "app/model/stage_commands.h"
#include "app/panes/stage_card.h"
#include "app/panes/trim/new_stages.h"
#include "app/widgets/theme.h"
#include "core/study/starting_points.h"

#include <QLabel>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <limits>
#include <utility>

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
        for (std::size_t i = 0; i < rail_.cards_.size() && i < rail_.shown_.size(); ++i) {
            const QRect box = rail_.cards_[i]->geometry();
            if (rail_.shown_[i].slot.holder.empty()) {
                painter.drawLine(x, box.center().y(), box.left(), box.center().y());
                painter.setBrush(t.ink);
                painter.drawEllipse(QPointF(x, box.center().y()), 2, 2);
            } else { // hung below one another
                painter.drawLine(box.center().x(), box.top() - 7, box.center().x(), box.top());
            }
        }
        for (const Foot& foot : rail_.feet_) {
            const QRect box = foot.button->geometry();
            painter.drawLine(box.center().x(), box.top() - 7, box.center().x(), box.top());
            if (foot.beside != nullptr) { // the branch comes back to the track
                const int end = foot.beside->geometry().bottom() + 3;
                painter.drawLine(box.center().x(), box.bottom(), box.center().x(), end);
                painter.drawLine(way_of(foot.slot, x), end, box.center().x(), end);
            }
        }
        for (const Group& group : rail_.groups_) {
            group.layout == ChainsLayout::bracket ? paint_bracket(painter, group)
                                                  : paint_way_back(painter, group);
        }
        painter.setPen(QPen(t.ink, 1.4));
        painter.setBrush(t.panel);
        painter.drawEllipse(QPointF(x, top), 5, 5);
        painter.setBrush(t.ink);
        painter.drawEllipse(QPointF(x, bottom), 5, 5);
        painter.setFont(text_font(11));
        painter.setPen(t.soft);
        const QString source = QString::fromStdString(rail_.shown_source_);
        const QString in = source.isEmpty() ? tr("in") : tr("in · %1").arg(source);
        painter.drawText(QRect(36, top - 9, width() - 44, 18), Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(in, Qt::ElideRight, width() - 44));
        painter.drawText(QRect(36, bottom - 9, width() - 44, 18), Qt::AlignLeft | Qt::AlignVCenter,
                         tr("out"));
        if (rail_.drop_) {
            painter.fillRect(drop_line(*rail_.drop_), t.copper);
        }
    }

private:
    static void paint_bracket(QPainter& painter, const Group& group) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(theme().soft, 1, Qt::DashLine));
        painter.drawRect(QRectF(group.box->geometry()).adjusted(0.5, 0.5, -0.5, -0.5));
    }
    // From the return's last stage up to where the loop begins.
    static void paint_way_back(QPainter& painter, const Group& group) {
        const QRect head = group.head->geometry(), last = group.last->geometry();
        const double x = group.box->geometry().left() + 3.5, bottom = last.center().y() + 0.5,
                     top = head.bottom() + 1.5;
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(theme().copper, 1.4));
        painter.drawPolyline(QPolygonF({{last.left() + 0.0, bottom}, {x, bottom}, {x, top}}));
        painter.drawPolyline(QPolygonF({{x - 3, top + 4}, {x, top}, {x + 3, top + 4}}));
    }
    // Where the signal goes on that a branch comes back to: the track, or further in the middle of
    // the stage that holds the branch.
    int way_of(const Slot& slot, int track) const {
        for (std::size_t i = 0; i < rail_.shown_.size(); ++i) {
            if (rail_.shown_[i].id == slot.holder && !rail_.shown_[i].slot.holder.empty()) {
                return rail_.cards_[i]->geometry().center().x();
            }
        }
        return track;
    }
    // Above the card that stands in the slot; else below the last one of its chain, or above the
    // branch's foot.
    QRect drop_line(const Slot& slot) const {
        QRect below(36, 40, width() - 44, 0);
        for (std::size_t i = 0; i < rail_.cards_.size() && i < rail_.shown_.size(); ++i) {
            const Slot& own = rail_.shown_[i].slot;
            const QRect box = rail_.cards_[i]->geometry();
            if (own == slot) {
                return {box.left(), box.top() - 5, box.width(), 3};
            }
            if (own.holder == slot.holder && own.chain == slot.chain && own.place < slot.place) {
                below = box;
            }
        }
        for (const Foot& foot : rail_.feet_) {
            if (foot.slot.holder == slot.holder && foot.slot.chain == slot.chain) {
                const QRect box = foot.button->geometry();
                return {box.left(), box.top() - 5, box.width(), 3};
            }
        }
        return {below.left(), below.bottom() + 4, below.width(), 3};
    }

    Rail& rail_;
};

Rail::Rail(Session& session, QWidget* parent)
    : QScrollArea(parent), session_(session), track_(new Track(*this)),
      list_(new QVBoxLayout(track_)), add_(new QPushButton(tr("add a stage"))),
      identities_(new QLabel) {
    setFrameShape(QFrame::NoFrame);
    setWidgetResizable(true);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFocusPolicy(Qt::NoFocus);
    setAccessibleName(tr("Rail: the stages of the channel"));
    list_->setContentsMargins(36, 38, 8, 40);
    list_->setSpacing(8);
    add_->setObjectName("add_stage");
    add_->setStyleSheet("QPushButton { border: 1px dashed palette(mid); background: transparent; "
                        "padding: 5px; } QPushButton:hover, QPushButton:focus, QPushButton:pressed "
                        "{ border-color: palette(link); } "
                        "QPushButton::menu-indicator { width: 0; }");
    add_->setAccessibleName(tr("Add a stage"));
    list_->addWidget(add_);
    list_->addWidget(identities_);
    list_->addStretch(1);
    setWidget(track_);
    identities_->setFont(text_font(11));
    identities_->setWordWrap(true);
    identities_->setForegroundRole(QPalette::PlaceholderText);
    identities_->setAccessibleName(tr("What holds exactly"));
    identities_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    constexpr int rest_ms = 120; // a drag is not held up by it
    look_for_identities_.setSingleShot(true);
    look_for_identities_.setInterval(rest_ms);
    connect(&look_for_identities_, &QTimer::timeout, this, &Rail::show_identities);
    fill_add_menu(add_, {});
    connect(&session_, &Session::analysis_changed, this, &Rail::refresh);
    connect(&session_, &Session::selection_changed, this, &Rail::show_selection);
    refresh();
}

void Rail::fill_add_menu(QPushButton* button, const std::optional<Slot>& slot) {
    auto* menu = new QMenu(button);
    fill_with_new_stages(*menu, this,
                         [this, slot](const StageSpec& spec) { add_stage(session_, spec, slot); });
    menu->addSeparator();
    QMenu* networks = menu->addMenu(tr("Networks"));
    networks->setToolTipsVisible(true);
    for (const StartingPoint& point : starting_points()) {
        const QString title = QString::fromStdString(point.title);
        networks
            ->addAction(title, this,
                        [this, title, stages = point.stages, slot] {
                            add_stages(session_, title, stages, slot);
                        })
            ->setToolTip(QString::fromStdString(point.words));
    }
    button->setMenu(menu);
}

std::vector<QPushButton*> Rail::branch_buttons() const {
    std::vector<QPushButton*> buttons;
    for (const Foot& foot : feet_) {
        buttons.push_back(foot.button);
    }
    return buttons;
}

std::vector<Rail::Placed> Rail::placed_stages() const {
    std::vector<Placed> placed;
    if (session_.channel() != nullptr) {
        visit_stages(session_.channel()->stages, [&](const Stage& stage, const Slot& slot, int) {
            placed.push_back({stage.id, slot, chains_in(stage).size()});
        });
    }
    return placed;
}

// As many cards as stages. Cards stay, whatever stage they show: one may be the sender of what
// brought us here.
void Rail::match_cards(std::size_t count) {
    while (cards_.size() > count) {
        list_->removeWidget(cards_.back());
        cards_.back()->hide();
        cards_.back()->deleteLater();
        cards_.pop_back();
    }
    while (cards_.size() < count) {
        auto* card = new StageCard(session_, track_);
        connect(card, &StageCard::dragged, this,
                [this, card](const QPoint& at) { drag_to(card, at); });
        connect(card, &StageCard::dropped, this, [this, card] { drop(card); });
        connect(card, &StageCard::rename_asked_for, this,
                [this, card] { emit rename_asked_for(card->id()); });
        QWidget::setTabOrder(cards_.empty() ? add_ : static_cast<QWidget*>(cards_.back()), card);
        cards_.push_back(card);
        card->show();
    }
}

namespace {

// Takes a layout apart; the widgets stay.
void empty_layout(QLayout* layout) {
    while (QLayoutItem* item = layout->takeAt(0)) {
        if (QLayout* inner = item->layout()) {
            empty_layout(inner);
        }
        delete item;
    }
}

} // namespace

void Rail::lay_out() {
    for (const Foot& foot : feet_) {
        foot.button->hide();
        foot.button->deleteLater();
    }
    feet_.clear();
    for (const Head& head : heads_) {
        head.label->hide();
        head.label->deleteLater();
    }
    heads_.clear();
    groups_.clear();
    empty_layout(list_);
    std::size_t card = 0;
    if (session_.channel() != nullptr) {
        lay_out_chain(session_.channel()->stages, {}, nullptr, list_, card);
    }
    list_->addWidget(add_);
    list_->addWidget(identities_);
    list_->addStretch(1);
}

// At most a few; all of them stand on the page of the network.
void Rail::show_identities() {
    constexpr std::size_t most = 4;
    QStringList lines;
    const auto& identities = session_.facts().identities();
    for (std::size_t i = 0; i < std::min(identities.size(), most); ++i) {
        lines << QStringLiteral("≡ ") + QString::fromStdString(identities[i].words);
    }
    if (identities.size() > most) {
        lines << tr("and %1 more").arg(identities.size() - most);
    }
    identities_->setText(lines.join('\n'));
}

void Rail::lay_out_chain(const Chain& chain, const Slot& first, QLayout* beside, QVBoxLayout* into,
                         std::size_t& card) {
    for (const auto& stage : chain) {
        into->addWidget(cards_.at(card++));
        if (const auto held = layout_of(*stage)) {
            *held == ChainsLayout::side_by_side ? lay_out_branches(*stage, into, card)
                                                : lay_out_group(*stage, *held, into, card);
        }
    }
    if (first.holder.empty()) {
        return;
    }
    auto* foot = new QPushButton(QStringLiteral("+"), track_);
    foot->setFixedHeight(20);
    foot->setMinimumWidth(20);
    foot->setStyleSheet(add_->styleSheet());
    foot->setToolTip(tr("Add a stage to this branch"));
    foot->setAccessibleName(tr("Add a stage to branch %1").arg(first.chain + 1));
    const Slot end{first.holder, first.chain, chain.size()};
    fill_add_menu(foot, end);
    into->addWidget(foot);
    feet_.push_back({foot, end, beside});
    foot->show();
}

QLabel* Rail::add_head(const Stage& stage, std::size_t chain, QVBoxLayout* into) {
    auto* head = new QLabel(QString::fromStdString(label_of_chain(stage, chain)), track_);
    head->setFont(text_font(11));
    head->setFixedHeight(14);
    into->addWidget(head);
    heads_.push_back({head, stage.id, chain});
    head->show();
    return head;
}

// A factor is no reason to lay everything out anew.
void Rail::show_heads() {
    for (const Head& head : heads_) {
        const Stage* stage = find_stage(session_.channel()->stages, head.stage);
        const QString text = QString::fromStdString(label_of_chain(*stage, head.chain));
        if (head.label->text() != text) {
            head.label->setText(text);
        }
    }
}

// Below one another: a bracket round what is repeated, a loop's stages and then those of its
// return.
void Rail::lay_out_group(const Stage& stage, ChainsLayout layout, QVBoxLayout* into,
                         std::size_t& card) {
    auto* column = new QVBoxLayout;
    column->setContentsMargins(layout == ChainsLayout::around ? 14 : 6, 4, 6, 6);
    column->setSpacing(8);
    Group group{layout, column, cards_.at(card - 1), nullptr};
    const auto chains = chains_in(stage);
    for (std::size_t k = 0; k < chains.size(); ++k) {
        if (k > 0) { // the first one's words stand in the head
            add_head(stage, k, column);
        }
        lay_out_chain(*chains[k], {stage.id, k, 0}, nullptr, column, card);
    }
    group.last = feet_.back().button;
    groups_.push_back(group);
    into->addLayout(column);
    into->addSpacing(4);
}

// Side by side.
void Rail::lay_out_branches(const Stage& stage, QVBoxLayout* into, std::size_t& card) {
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    const auto chains = chains_in(stage);
    for (std::size_t k = 0; k < chains.size(); ++k) {
        auto* column = new QVBoxLayout;
        column->setSpacing(8);
        add_head(stage, k, column)->setAlignment(Qt::AlignCenter);
        lay_out_chain(*chains[k], {stage.id, k, 0}, row, column, card);
        column->addStretch(1);
        row->addLayout(column, 1);
    }
    into->addLayout(row);
    into->addSpacing(4);
}

void Rail::refresh() {
    auto placed = placed_stages();
    const bool moved = placed != shown_;
    if (moved) {
        shown_ = std::move(placed);
        match_cards(shown_.size());
        lay_out();
    } else {
        show_heads();
    }
    for (std::size_t i = 0; i < cards_.size(); ++i) {
        cards_[i]->show_stage(shown_[i].id);
    }
    // What held may hold no longer.
    if (!identities_->text().isEmpty()) {
        identities_->clear();
    }
    look_for_identities_.start();
    const auto analysis = session_.analysis();
    const bool is_measured = analysis != nullptr && analysis->measured != nullptr;
    const std::string source = is_measured ? analysis->measured->name() : std::string();
    if (moved || shown_source_ != source) { // a drag changes neither
        shown_source_ = source;
        track_->update();
    }
}

void Rail::show_selection() {
    track_->update();
    for (StageCard* card : cards_) {
        card->update();
        if (card->id() == session_.selection().stage) {
            ensureWidgetVisible(card, 0, 20);
            // One that has just been added has its place only when the rail is laid out.
            QTimer::singleShot(0, card, [this, card] { ensureWidgetVisible(card, 0, 20); });
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

std::optional<Slot> Rail::slot_at(const QPoint& at) const {
    for (const Foot& foot : feet_) {
        if (foot.button->geometry().adjusted(0, -6, 0, 6).contains(at)) {
            return foot.slot;
        }
    }
    // The card nearest to the point: above its middle its own slot, below the next one.
    std::optional<Slot> found;
    int least = std::numeric_limits<int>::max();
    for (std::size_t i = 0; i < cards_.size(); ++i) {
        const QRect box = cards_[i]->geometry();
        const int aside = std::max({box.left() - at.x(), at.x() - box.right(), 0});
        const int distance = std::abs(box.center().y() - at.y()) + 2 * aside;
        if (distance < least) {
            least = distance;
            found = shown_[i].slot;
            found->place += at.y() > box.center().y() ? 1 : 0;
        }
    }
    return found;
}

void Rail::drag_to(StageCard* card, const QPoint& global) {
    drop_ = slot_at(track_->mapFromGlobal(global));
    const auto own = slot_of(session_.channel()->stages, card->id());
    const bool same_chain =
        drop_ && own && drop_->holder == own->holder && drop_->chain == own->chain;
    if (same_chain && (drop_->place == own->place || drop_->place == own->place + 1)) {
        drop_.reset(); // where it stands
    }
    track_->update();
}

void Rail::drop(StageCard* card) {
    auto to = std::exchange(drop_, {});
    track_->update();
    if (!to) {
        return;
    }
    // Slots are counted without the card that moves.
    const auto own = slot_of(session_.channel()->stages, card->id());
    if (own && own->holder == to->holder && own->chain == to->chain && to->place > own->place) {
        --to->place;
    }
    move_stage(session_, card->id(), *to);
}

} // namespace syntonon
