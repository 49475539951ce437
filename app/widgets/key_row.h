// Keys to play with the pointer or the computer's keyboard.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/engine/live_keys.h"

#include <QWidget>
#include <map>
#include <memory>
#include <optional>

namespace syntonon {

// Three octaves. The lower on a key it is pressed, the harder. With the focus, the letters of the
// rows A and W play semitones from its lowest C on; keys pressed elsewhere are shown, too.
class KeyRow : public QWidget {
    Q_OBJECT

public:
    explicit KeyRow(std::shared_ptr<LiveKeys> keys, QWidget* parent = nullptr);

    static constexpr int lowest = 48, keys_shown = 37; // C3 to C6
    QRectF rect_of(int key) const;
    std::optional<int> key_at(const QPointF& at) const;
    QSize sizeHint() const override { return {320, 56}; }
    QSize minimumSizeHint() const override { return {200, 44}; }

signals:
    void pressed(); // by hand, here

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void keyReleaseEvent(QKeyEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;
    void hideEvent(QHideEvent* event) override;
    void timerEvent(QTimerEvent* event) override;
    void showEvent(QShowEvent* event) override;

private:
    void press(int key, double velocity);
    void release_all();

    std::shared_ptr<LiveKeys> keys_;
    std::optional<int> under_pointer_;
    std::map<int, int> by_letter_; // Qt key to key
    std::array<bool, keys_shown> shown_{};
    int timer_ = 0;
};

} // namespace syntonon
