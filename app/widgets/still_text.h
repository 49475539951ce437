// Text that changes at every step of a drag while nothing round it is laid out anew.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QLabel>
#include <algorithm>

namespace syntonon {

// Selectable by the pointer. Its room is that of so many lines, and wide enough for the longest one
// that it has shown.
class StillText : public QWidget {
public:
    StillText(int lines, int least_width) : label_(new QLabel(this)), lines_(lines) {
        label_->setTextInteractionFlags(Qt::TextSelectableByMouse);
        label_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
        setFixedWidth(least_width);
    }
    void set_font(const QFont& font) {
        label_->setFont(font);
        setFixedHeight(lines_ * QFontMetrics(font).lineSpacing() + 2);
    }
    void set_name(const QString& name) { label_->setAccessibleName(name); }
    void show_text(const QString& text) {
        if (text == label_->text()) {
            return;
        }
        for (const QString& line : text.split('\n')) {
            if (line.size() > longest_) {
                longest_ = line.size();
                setFixedWidth(
                    std::max(minimumWidth(), label_->fontMetrics().horizontalAdvance(line) + 4));
            }
        }
        label_->setText(text);
    }

protected:
    void resizeEvent(QResizeEvent*) override { label_->setGeometry(rect()); }

private:
    QLabel* label_;
    int lines_;
    qsizetype longest_ = 0;
};

} // namespace syntonon
