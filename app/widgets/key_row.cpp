// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/key_row.h"

#include "app/widgets/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <array>

namespace syntonon {
namespace {

constexpr int keys_an_octave = 12, naturals_an_octave = 7;
// Of each semitone: its natural key's place in the octave; of raised ones that below.
constexpr std::array<int, keys_an_octave> natural_of = {0, 0, 1, 1, 2, 3, 3, 4, 4, 5, 5, 6};
constexpr std::array<bool, keys_an_octave> is_raised_key = {
    false, true, false, true, false, false, true, false, true, false, true, false};

bool is_raised(int key) {
    return is_raised_key.at(static_cast<std::size_t>(key % keys_an_octave));
}

int naturals_below(int key) {
    const int from_lowest = key - KeyRow::lowest;
    return from_lowest / keys_an_octave * naturals_an_octave
           + natural_of.at(static_cast<std::size_t>(from_lowest % keys_an_octave));
}

// Semitones from the lowest C on; those of the upper row are the raised ones.
constexpr std::array letters = std::to_array<int>(
    {Qt::Key_A, Qt::Key_W, Qt::Key_S, Qt::Key_E, Qt::Key_D, Qt::Key_F, Qt::Key_T, Qt::Key_G,
     Qt::Key_Y, Qt::Key_H, Qt::Key_U, Qt::Key_J, Qt::Key_K, Qt::Key_O, Qt::Key_L});

} // namespace

KeyRow::KeyRow(std::shared_ptr<LiveKeys> keys, QWidget* parent)
    : QWidget(parent), keys_(std::move(keys)) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Keys"));
    setToolTip(tr("Press keys, harder the lower; with the focus here the letters A W S E D F … "
                  "play, too"));
}

QRectF KeyRow::rect_of(int key) const {
    const int naturals = naturals_below(lowest + keys_shown - 1) + 1;
    const double wide = (width() - 1.0) / naturals, left = naturals_below(key) * wide;
    constexpr double raised_width = 0.6, raised_height = 0.6;
    return is_raised(key) ? QRectF(left + wide * (1 - raised_width / 2), 0, wide * raised_width,
                                   height() * raised_height)
                          : QRectF(left, 0, wide, height() - 1.0);
}

std::optional<int> KeyRow::key_at(const QPointF& at) const {
    for (const bool raised : {true, false}) { // they lie above
        for (int key = lowest; key < lowest + keys_shown; ++key) {
            if (is_raised(key) == raised && rect_of(key).contains(at)) {
                return key;
            }
        }
    }
    return std::nullopt;
}

void KeyRow::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().panel);
    for (const bool raised : {false, true}) {
        for (int key = lowest; key < lowest + keys_shown; ++key) {
            if (is_raised(key) != raised) {
                continue;
            }
            const bool is_down = keys_->at(static_cast<std::size_t>(key)).velocity > 0;
            painter.setPen(QPen(theme().soft, 1));
            painter.setBrush(is_down ? theme().copper : raised ? theme().text : theme().ground);
            painter.drawRect(rect_of(key));
        }
    }
    painter.setFont(text_font(9));
    painter.setPen(theme().soft);
    for (int key = lowest; key < lowest + keys_shown; key += keys_an_octave) {
        painter.drawText(rect_of(key).adjusted(0, 0, 0, -2), Qt::AlignHCenter | Qt::AlignBottom,
                         QStringLiteral("C%1").arg(key / keys_an_octave - 1));
    }
    if (hasFocus()) {
        painter.setPen(QPen(theme().copper, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(0.5, 0.5, width() - 1.5, height() - 1.5));
    }
}

void KeyRow::press(int key, double velocity) {
    keys_->press(static_cast<std::size_t>(key), velocity);
    update();
    emit pressed();
}

void KeyRow::release_all() {
    if (under_pointer_) {
        keys_->release(static_cast<std::size_t>(*under_pointer_));
    }
    for (const auto& [letter, key] : by_letter_) {
        keys_->release(static_cast<std::size_t>(key));
    }
    under_pointer_.reset();
    by_letter_.clear();
    update();
}

void KeyRow::mousePressEvent(QMouseEvent* event) {
    if (const auto key = key_at(event->position())) {
        under_pointer_ = key;
        constexpr double softest = 0.3;
        const QRectF place = rect_of(*key);
        const double low = (event->position().y() - place.top()) / place.height();
        press(*key, std::clamp(softest + (1 - softest) * low, softest, 1.0));
    }
}

void KeyRow::mouseMoveEvent(QMouseEvent* event) {
    const auto key = key_at(event->position());
    if (under_pointer_ && key && key != under_pointer_) {
        keys_->release(static_cast<std::size_t>(*under_pointer_));
        mousePressEvent(event);
    }
}

void KeyRow::mouseReleaseEvent(QMouseEvent*) {
    if (under_pointer_) {
        keys_->release(static_cast<std::size_t>(*under_pointer_));
        under_pointer_.reset();
        update();
    }
}

void KeyRow::keyPressEvent(QKeyEvent* event) {
    const auto letter = std::ranges::find(letters, event->key());
    if (letter == letters.end() || event->modifiers() != Qt::NoModifier) {
        QWidget::keyPressEvent(event);
        return;
    }
    if (!event->isAutoRepeat()) {
        constexpr double velocity = 0.8;
        const int key = lowest + static_cast<int>(letter - letters.begin());
        by_letter_[event->key()] = key;
        press(key, velocity);
    }
}

void KeyRow::keyReleaseEvent(QKeyEvent* event) {
    const auto held = by_letter_.find(event->key());
    if (held != by_letter_.end() && !event->isAutoRepeat()) {
        keys_->release(static_cast<std::size_t>(held->second));
        by_letter_.erase(held);
        update();
    }
}

void KeyRow::focusOutEvent(QFocusEvent* event) {
    release_all();
    QWidget::focusOutEvent(event);
}

void KeyRow::showEvent(QShowEvent* event) {
    constexpr int while_shown_ms = 50; // what comes over MIDI is looked at so often
    timer_ = timer_ == 0 ? startTimer(while_shown_ms) : timer_;
    QWidget::showEvent(event);
}

void KeyRow::hideEvent(QHideEvent* event) {
    release_all();
    if (timer_ != 0) {
        killTimer(std::exchange(timer_, 0));
    }
    QWidget::hideEvent(event);
}

void KeyRow::timerEvent(QTimerEvent*) {
    bool changed = false;
    for (int i = 0; i < keys_shown; ++i) {
        const auto at = static_cast<std::size_t>(i);
        const bool now = keys_->at(std::size_t{lowest} + at).velocity > 0;
        changed = changed || now != shown_.at(at);
        shown_.at(at) = now;
    }
    if (changed) {
        update();
    }
}

} // namespace syntonon
