// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/stage_card.h"

#include "app/model/last_stable.h"
#include "app/model/stage_commands.h"
#include "app/widgets/line_text.h"
#include "app/widgets/theme.h"
#include "app/widgets/thin_line.h"
#include "core/design/root_numbers.h"

#include <QApplication>
#include <QKeyEvent>
#include <QMenu>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

// A stage further down in its chain is an FIR of what is above it.
bool is_stood_for(const Chain& stages, const std::string& id) {
    const auto slot = slot_of(stages, id);
    if (!slot) {
        return false;
    }
    const Stage* holder = slot->holder.empty() ? nullptr : find_stage(stages, slot->holder);
    const Chain& own = holder != nullptr ? *chains_in(*holder)[slot->chain] : stages;
    return std::any_of(
        own.begin() + static_cast<std::ptrdiff_t>(slot->place) + 1, own.end(),
        [](const auto& stage) { return stage->enabled && stands_for_above(stage->spec); });
}

constexpr int card_height = 62, head_height = 28;
constexpr int narrow_width = 100; // below it stands in a branch

} // namespace

StageSwitch::StageSwitch(QWidget* parent) : QAbstractButton(parent) {
    setCheckable(true);
    setFocusPolicy(Qt::NoFocus); // Space on the card does it
    setFixedSize(22, 22);
    setToolTip(tr("Switch the stage on or off (Space)"));
    setAccessibleName(tr("Stage on"));
}

void StageSwitch::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(theme().ink, 1.3));
    painter.setBrush(isChecked() ? QBrush(theme().ink) : Qt::NoBrush);
    painter.drawEllipse(QPointF(11, 11), 3.6, 3.6);
}

StageCard::StageCard(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), switch_(new StageSwitch(this)) {
    setFocusPolicy(Qt::StrongFocus);
    setAttribute(Qt::WA_OpaquePaintEvent);
    setFixedHeight(card_height);
    setMinimumWidth(52);
    connect(switch_, &QAbstractButton::clicked, this, [this](bool on) {
        session_.select_stage(id_);
        switch_stage(session_, id_, on);
    });
}

const Stage* StageCard::stage() const {
    const Channel* channel = session_.channel();
    return channel != nullptr ? find_stage(channel->stages, id_) : nullptr;
}

void StageCard::show_stage(const std::string& id) {
    id_ = id;
    const Stage* s = stage();
    if (s == nullptr) {
        return;
    }
    const auto& all = session_.analysis()->stages;
    const auto found = all.find(id_);
    const auto now = found != all.end() ? found->second : nullptr;
    const QString name = QString::fromStdString(title_of(*s) + ", " + summary_of(*s));
    const QString state = !s->enabled                                     ? tr("off")
                          : is_stood_for(session_.channel()->stages, id_) ? tr("in the FIR below")
                                                                          : tr("on");
    is_head_ = layout_of(*s).has_value();
    setFixedHeight(is_head_ ? head_height : card_height);
    const bool same = now == shown_ && accessibleDescription() == state && accessibleName() == name;
    shown_ = now;
    if (same) {
        return;
    }
    switch_->setChecked(s->enabled);
    setAccessibleName(name);
    setAccessibleDescription(state);
    setToolTip(now == nullptr  ? QString()
               : is_unstable() ? tr("unstable: %1").arg(growth_words(*now->filter, session_.axis()))
               : !now->filter  ? QString::fromStdString(to_text(now->filter.error()))
                               : QString::fromStdString(now->note));
    update();
}

void StageCard::paint_response(QPainter& painter, const QRectF& area) const {
    if (shown_ == nullptr || !shown_->filter) {
        return;
    }
    constexpr double shown_db = 15, quiet_db = -6;
    const auto& level = shown_->response.magnitude_db;
    // What is quiet throughout still shows its shape.
    const double highest = level.empty() ? 0 : std::ranges::max(level);
    const double lift = std::isfinite(highest) ? std::max(0.0, quiet_db - highest) : 0;
    QPolygonF line;
    for (std::size_t i = 0; i < level.size(); i += 6) {
        const double y = std::clamp(level[i] + lift, -shown_db, shown_db) / shown_db;
        line << QPointF(area.left()
                            + area.width() * static_cast<double>(i)
                                  / static_cast<double>(level.size() - 1),
                        area.center().y() - y * area.height() / 2);
    }
    painter.setRenderHint(QPainter::Antialiasing, true);
    draw_thin_line(painter, line);
    painter.setRenderHint(QPainter::Antialiasing, false);
}

void StageCard::paintEvent(QPaintEvent*) {
    const Stage* s = stage();
    if (s == nullptr) {
        return;
    }
    const Theme& t = theme();
    QPainter painter(this);
    const bool selected = session_.selection().stage == id_ || session_.marked().contains(id_);
    const bool waits = shown_ != nullptr && shown_->is_waiting;
    const bool broken = shown_ != nullptr && !shown_->filter && !waits;
    const bool unstable = is_unstable();
    painter.fillRect(rect(), selected ? t.raised : t.panel);
    painter.setPen(QPen(broken || unstable ? t.not_met
                        : selected         ? t.copper
                                           : t.hairline,
                        selected ? 2 : 1));
    // Half a pen inside, or at 150 % a part of the edge would lie outside and be cut off.
    const double inset = selected ? 1 : 0.5;
    painter.setRenderHint(QPainter::Antialiasing);
    painter.drawRect(QRectF(rect()).adjusted(inset, inset, -inset, -inset));
    painter.setRenderHint(QPainter::Antialiasing, false);
    if (hasFocus()) {
        painter.setPen(QPen(t.copper, 1, Qt::DotLine));
        painter.drawRect(rect().adjusted(4, 4, -5, -5));
    }
    paint_words(painter, *s);
    QColor line = !s->enabled || waits ? t.hairline : selected ? t.copper : t.ink;
    painter.setPen(QPen(line, 1));
    if (!is_head_) {
        paint_response(painter, QRectF(8, 22, width() - 16, 19));
    }
    switch_->move(width() - (width() < narrow_width ? 21 : 24), is_head_ ? 3 : 2);
}

bool StageCard::is_unstable() const {
    return shown_ != nullptr && shown_->filter && !shown_->filter->is_stable();
}

QString StageCard::numbers_of(const Stage& stage) const {
    if (shown_ != nullptr && shown_->is_waiting) {
        return tr("being designed…");
    }
    if (shown_ != nullptr && !shown_->filter) {
        return QStringLiteral("◇ ") + QString::fromStdString(shown_->filter.error().reason);
    }
    const QString numbers = QString::fromStdString(summary_of(stage));
    if (!stage.enabled) {
        return numbers + tr(" · off");
    }
    if (accessibleDescription() == tr("in the FIR below")) {
        return tr("in the FIR below");
    }
    if (is_unstable()) {
        // Short: a card is narrow, its hint says the rest.
        const auto& roots = shown_->filter->roots();
        const std::string rate = roots ? growth_rate_text(*roots, session_.axis()) : std::string();
        return rate.empty() ? tr("unstable") : tr("unstable +%1").arg(rate.c_str());
    }
    return shown_ != nullptr && !shown_->note.empty() ? QString::fromStdString(shown_->note)
                                                      : numbers;
}

// The title above the numbers; on a head the numbers beside the title.
void StageCard::paint_words(QPainter& painter, const Stage& stage) const {
    const Theme& t = theme();
    const bool narrow = width() < narrow_width;
    const int left = narrow ? 5 : 8, room = width() - (narrow ? 25 : 34);
    const auto write = [&](const QRect& box, const QString& text) {
        draw_line(painter, box, Qt::AlignLeft | Qt::AlignVCenter,
                  elided_line(painter.font(), text, box.width()));
    };
    painter.setPen(stage.enabled ? t.text : t.soft);
    painter.setFont(narrow ? text_font(11) : text_font(12, QFont::DemiBold));
    const QString title = QString::fromStdString(title_of(stage));
    const int title_width = std::min(room, static_cast<int>(line_width(painter.font(), title)) + 2);
    constexpr int least_room = 44;
    if (is_head_ && room - title_width < least_room) { // the numbers say more than the title
        write({left, 5, room, 18}, numbers_of(stage));
        return;
    }
    write({left, is_head_ ? 5 : 4, title_width, 18}, title);
    const bool broken = shown_ != nullptr && !shown_->filter && !shown_->is_waiting;
    painter.setFont(text_font(narrow ? 10 : 11));
    painter.setPen(broken || is_unstable() ? t.not_met : t.soft);
    write(is_head_ ? QRect(left + title_width + 6, 5, room - title_width - 6, 18)
                   : QRect(left, height() - 20, width() - left - 4, 16),
          numbers_of(stage));
}

void StageCard::mousePressEvent(QMouseEvent* event) {
    const bool is_menu = event->button() != Qt::LeftButton;
    if (event->modifiers() == Qt::ControlModifier && !is_menu) {
        session_.mark_stage(id_);
    } else if (!is_menu || !session_.marked().contains(id_)) {
        session_.select_stage(id_);
    }
    pressed_at_ = event->pos();
    dragging_ = false;
}

void StageCard::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons().testFlag(Qt::LeftButton)
        && (dragging_
            || (event->pos() - pressed_at_).manhattanLength()
                   >= QApplication::startDragDistance())) {
        dragging_ = true;
        setCursor(Qt::ClosedHandCursor);
        emit dragged(event->globalPosition().toPoint());
    }
}

void StageCard::mouseReleaseEvent(QMouseEvent*) {
    unsetCursor();
    if (dragging_) {
        dragging_ = false;
        emit dropped();
    }
}

void StageCard::mouseDoubleClickEvent(QMouseEvent*) {
    emit rename_asked_for();
}

void StageCard::focusInEvent(QFocusEvent* event) {
    QWidget::focusInEvent(event);
    // What has the focus is what the keys act on, so it is also what is selected.
    // A click selects by itself.
    if (event->reason() != Qt::ActiveWindowFocusReason && event->reason() != Qt::PopupFocusReason
        && event->reason() != Qt::MouseFocusReason) {
        session_.select_stage(id_);
    }
    update();
}

void StageCard::keyPressEvent(QKeyEvent* event) {
    const int by = event->key() == Qt::Key_Up ? -1 : event->key() == Qt::Key_Down ? 1 : 0;
    if (by != 0 && event->modifiers() == Qt::NoModifier) {
        select_neighbour(session_, by);
    } else if (event->key() == Qt::Key_Space && event->modifiers() == Qt::ControlModifier) {
        session_.mark_stage(id_);
    } else {
        QWidget::keyPressEvent(event);
    }
}

void StageCard::contextMenuEvent(QContextMenuEvent* event) {
    if (!session_.marked().contains(id_)) {
        session_.select_stage(id_);
    }
    QMenu menu(this);
    menu.addAction(stage()->enabled ? tr("Switch off") : tr("Switch on"), this,
                   [this] { switch_stage(session_, id_, !stage()->enabled); });
    menu.addAction(tr("Duplicate"), this, [this] { duplicate_stage(session_, id_); });
    menu.addAction(tr("Rename…"), this, &StageCard::rename_asked_for);
    QMenu* copy = menu.addMenu(tr("Copy to channel"));
    for (int i = 0; i < static_cast<int>(session_.study().channels.size()); ++i) {
        if (i != session_.selection().channel) {
            copy->addAction(QString::fromStdString(
                                session_.study().channels[static_cast<std::size_t>(i)]->name),
                            this, [this, i] { copy_stage_to(session_, id_, i); });
        }
    }
    copy->setEnabled(!copy->isEmpty());
    const QString mark = session_.marked().contains(id_) ? tr("Look at it no longer with others")
                                                         : tr("Look at it with others");
    menu.addAction(mark + tr("\tCtrl+click"), this, [this] { session_.mark_stage(id_); });
    menu.addSeparator();
    menu.addAction(tr("Remove"), this, [this] { remove_stage(session_, id_); });
    menu.exec(event->globalPos());
}

} // namespace syntonon
