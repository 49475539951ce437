// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/tab_strip.h"

#include "app/widgets/theme.h"

#include <QKeyEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>

namespace syntonon {
namespace {

constexpr int word_gap = 22, least_word_gap = 8, channel_padding = 12, square = 8,
              longest_channel_name = 110;

} // namespace

TabStrip::TabStrip(Look look, QWidget* parent) : QWidget(parent), look_(look) {
    setFocusPolicy(Qt::TabFocus);
    setSizePolicy(look == Look::words ? QSizePolicy::Preferred : QSizePolicy::Expanding,
                  QSizePolicy::Fixed);
}

void TabStrip::set_tabs(const QStringList& names, const std::vector<QColor>& colours) {
    if (names == names_ && colours == colours_) {
        return;
    }
    names_ = names;
    colours_ = colours;
    measure_names();
    chosen_ = std::clamp(chosen_, 0, std::max(0, static_cast<int>(names.size()) - 1));
    bring_into_view(chosen_);
    updateGeometry();
    update();
}

void TabStrip::choose(int index) {
    chosen_ = index;
    setAccessibleDescription(names_.value(index));
    bring_into_view(index);
    update();
}

// Once for each set of names: to lay text out is what costs most in a row of many tabs.
void TabStrip::measure_names() {
    const QFontMetrics metrics(text_font(12, QFont::DemiBold));
    shown_names_.clear();
    ends_.clear();
    natural_width_ = 0;
    for (const QString& name : names_) {
        natural_width_ += metrics.horizontalAdvance(name) + word_gap;
    }
    // Words move closer where there is little room.
    const int lacking = natural_width_ - word_gap - width();
    const int gaps = std::max(1, static_cast<int>(names_.size()) - 1);
    gap_ = std::clamp(word_gap - (lacking + gaps - 1) / gaps, least_word_gap, word_gap);
    int end = 0;
    for (const QString& name : names_) {
        const bool words = look_ == Look::words;
        shown_names_ << (words ? name
                               : metrics.elidedText(name, Qt::ElideRight, longest_channel_name));
        const int text = metrics.horizontalAdvance(shown_names_.back());
        end += words ? text + gap_ : text + 2 * channel_padding + square + 8;
        ends_.push_back(end);
    }
}

void TabStrip::bring_into_view(int index) {
    if (look_ == Look::words || index < 0 || index >= names_.size()) {
        return;
    }
    const QRect tab = tab_rect(index);
    if (tab.right() >= width()) {
        scrolled_ += tab.right() + 1 - width();
    } else if (tab.left() < 0) {
        scrolled_ += tab.left();
    }
    scrolled_ = std::clamp(scrolled_, 0, std::max(0, full_width() - width()));
}

QRect TabStrip::tab_rect(int index) const {
    const auto i = static_cast<std::size_t>(index);
    const int left = index > 0 ? ends_.at(i - 1) : 0;
    return {left - scrolled_, 0, ends_.at(i) - left, height()};
}

int TabStrip::tab_at(const QPoint& point) const {
    for (int i = 0; i < names_.size(); ++i) {
        if (tab_rect(i).contains(point)) {
            return i;
        }
    }
    return -1;
}

QSize TabStrip::sizeHint() const {
    return {look_ == Look::words ? natural_width_ : full_width(), look_ == Look::words ? 28 : 32};
}

void TabStrip::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    if (look_ == Look::words) {
        measure_names();
    }
    scrolled_ = std::clamp(scrolled_, 0, std::max(0, full_width() - width()));
    bring_into_view(chosen_);
}

bool TabStrip::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        const auto& help = *static_cast<QHelpEvent*>(event);
        const int index = tab_at(help.pos());
        const QString name = look_ == Look::channels ? names_.value(index) : QString();
        const QStringList lines{name, hints_.value(index)};
        QToolTip::showText(help.globalPos(),
                           (name.isEmpty() ? lines.mid(1) : lines).join('\n').trimmed(), this);
        return true;
    }
    return QWidget::event(event);
}

void TabStrip::contextMenuEvent(QContextMenuEvent* event) {
    if (const int index = tab_at(event->pos()); index >= 0) {
        take(index);
        emit menu_asked_for(index, event->globalPos());
    }
}

void TabStrip::take(int index) {
    if (index >= 0 && index < names_.size() && index != chosen_) {
        choose(index);
        emit chosen_by_user(index);
    }
}

void TabStrip::mousePressEvent(QMouseEvent* event) {
    take(tab_at(event->pos()));
}

void TabStrip::mouseDoubleClickEvent(QMouseEvent* event) {
    if (const int index = tab_at(event->pos()); index >= 0) {
        emit opened_by_user(index);
    }
}

void TabStrip::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Left || event->key() == Qt::Key_Right) {
        take(chosen_ + (event->key() == Qt::Key_Left ? -1 : 1));
    } else {
        QWidget::keyPressEvent(event);
    }
}

void TabStrip::wheelEvent(QWheelEvent* event) {
    if (look_ == Look::channels && !all_fit()) {
        constexpr int pixels_a_click = 90;
        scrolled_ = std::clamp(scrolled_ - event->angleDelta().y() * pixels_a_click / 120, 0,
                               full_width() - width());
        update();
    } else {
        take(chosen_ + (event->angleDelta().y() > 0 ? -1 : 1));
    }
}

void TabStrip::paint_channel(QPainter& painter, int index) {
    const Theme& t = theme();
    const QRect tab = tab_rect(index);
    if (index == chosen_) {
        painter.fillRect(tab.adjusted(0, 4, 0, 0), t.panel);
        painter.setPen(t.hairline);
        painter.drawPolyline(
            QPolygon({tab.bottomLeft() + QPoint(0, 1), tab.topLeft() + QPoint(0, 4),
                      tab.topRight() + QPoint(0, 4), tab.bottomRight() + QPoint(0, 1)}));
    }
    const auto colour = static_cast<std::size_t>(index) < colours_.size()
                            ? colours_[static_cast<std::size_t>(index)]
                            : t.soft;
    painter.fillRect(tab.left() + channel_padding, tab.center().y() - square / 2 + 2, square,
                     square, colour);
}

// Where the name stands; of a channel at the row's end, what is in view.
QRect TabStrip::name_rect(int index) const {
    const QRect tab = tab_rect(index);
    return look_ == Look::words
               ? tab
               : tab.adjusted(channel_padding + square + 8, 2, 0, 2).intersected(rect());
}

QString TabStrip::name_in_view(int index) const {
    const QFontMetrics metrics(text_font(12, index == chosen_ ? QFont::DemiBold : QFont::Normal));
    const QRect tab = tab_rect(index);
    if (look_ == Look::words || rect().contains(tab)) {
        return shown_name(index);
    }
    return metrics.elidedText(shown_name(index), tab.left() < 0 ? Qt::ElideLeft : Qt::ElideRight,
                              name_rect(index).width() - 2);
}

void TabStrip::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const Theme& t = theme();
    for (int i = 0; i < names_.size(); ++i) {
        const QRect tab = tab_rect(i);
        if (!tab.intersects(rect())) {
            continue;
        }
        const bool chosen = i == chosen_;
        if (look_ == Look::channels) {
            paint_channel(painter, i);
        }
        painter.setFont(text_font(12, chosen ? QFont::DemiBold : QFont::Normal));
        painter.setPen(chosen ? t.text : t.soft);
        painter.drawText(name_rect(i), Qt::AlignLeft | Qt::AlignVCenter, name_in_view(i));
        if (look_ == Look::words && chosen) {
            painter.fillRect(tab.left(), height() - 3, tab.width() - gap_, 2, t.copper);
        }
        if (chosen && hasFocus()) {
            painter.setPen(QPen(t.copper, 1, Qt::DotLine));
            painter.drawRect(tab.adjusted(look_ == Look::words ? -1 : 4, 6,
                                          look_ == Look::words ? -gap_ + 4 : -5, -4));
        }
    }
}

} // namespace syntonon
