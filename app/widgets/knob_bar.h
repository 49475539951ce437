// A number on a line, to be drawn along with the pointer, with marks where something begins.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QString>
#include <QWidget>
#include <vector>

namespace syntonon {

// Left and Right move it by a hundredth of the range, with Shift by a thousandth, the wheel too;
// whole numbers by one.
class KnobBar : public QWidget {
    Q_OBJECT

public:
    struct Mark {
        double value;
        QString words; // "unstable from 1.613"
        bool operator==(const Mark&) const = default;
    };

    explicit KnobBar(const QString& name, QWidget* parent = nullptr);

    void set_range(double low, double high, bool whole);
    void set_marks(std::vector<Mark> marks);
    void show_value(double value);
    double value() const { return value_; }
    double low() const { return low_; }
    double high() const { return high_; }
    const std::vector<Mark>& marks() const { return marks_; }
    double x_of(double value) const; // in pixels
    bool is_held() const { return held_; }

    QSize sizeHint() const override { return {260, 48}; }

signals:
    void taken();               // a new drag begins
    void turned(double value);  // by pointer, in a drag
    void stepped(double value); // by key or wheel

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void focusOutEvent(QFocusEvent* event) override;

private:
    double value_at(double x) const;
    double kept_in_range(double value) const;
    void step(double parts, bool fine);

    double low_ = 0, high_ = 1, value_ = 0;
    bool whole_ = false, held_ = false;
    std::vector<Mark> marks_;
};

} // namespace syntonon
