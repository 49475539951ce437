// Text that changes at every step of a drag while nothing round it is laid out anew.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/widgets/line_text.h"

#include <QEnterEvent>
#include <QFontMetrics>
#include <QLabel>
#include <QStringList>
#include <algorithm>

namespace syntonon {

// Its room is that of so many lines, and wide enough for the longest one that it has shown. Can be
// selected while the pointer is on it.
class StillText : public QWidget {
public:
    StillText(int lines, int least_width) : label_(new QLabel(this)), lines_(lines) {
        label_->setTextInteractionFlags(Qt::TextSelectableByMouse);
        label_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
        label_->hide();
        setFixedWidth(least_width);
    }
    void set_font(const QFont& font) {
        setFont(font);
        label_->setFont(font);
        setFixedHeight(lines_ * line_height() + 2);
    }
    const QStringList& lines() const { return text_; }
    void show_text(const QString& text) {
        const QStringList lines = text.split('\n');
        if (lines == text_) {
            return;
        }
        text_ = lines;
        for (const QString& line : text_) {
            if (line.size() > longest_) {
                longest_ = line.size();
                setFixedWidth(
                    std::max(minimumWidth(), static_cast<int>(line_width(font(), line)) + 4));
            }
        }
        if (label_->isVisible()) { // what was selected is gone with the text
            label_->setText(text);
            label_->setVisible(underMouse());
        }
        setAccessibleDescription(text);
        update();
    }

protected:
    void resizeEvent(QResizeEvent*) override { label_->setGeometry(rect()); }
    void enterEvent(QEnterEvent*) override {
        label_->setText(text_.join('\n'));
        label_->show();
    }
    void leaveEvent(QEvent*) override { label_->setVisible(label_->hasSelectedText()); }
    // A label that can be selected lays out a document whenever its text changes.
    void paintEvent(QPaintEvent*) override {
        if (label_->isVisible()) {
            return;
        }
        QPainter painter(this);
        QRectF row(0, 0, width(), line_height());
        for (const QString& line : text_) {
            draw_line(painter, row, Qt::AlignLeft | Qt::AlignTop, line);
            row.translate(0, line_height());
        }
    }

private:
    int line_height() const { return QFontMetrics(font()).lineSpacing(); }

    QLabel* label_;
    int lines_;
    QStringList text_;
    qsizetype longest_ = 0;
};

} // namespace syntonon
