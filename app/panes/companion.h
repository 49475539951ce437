// A pane beside the lanes with words to switch what it shows.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/widgets/tab_strip.h"

#include <QStackedWidget>
#include <QVBoxLayout>
#include <QWidget>

namespace syntonon {

class Companion : public QWidget {
    Q_OBJECT

public:
    explicit Companion(const QString& name, QWidget* parent = nullptr)
        : QWidget(parent), tabs_(new TabStrip(TabStrip::Look::words)), stack_(new QStackedWidget) {
        auto* column = new QVBoxLayout(this);
        column->setContentsMargins(0, 4, 0, 0);
        column->setSpacing(0);
        auto* row = new QHBoxLayout;
        row->setContentsMargins(16, 0, 16, 0);
        row->addWidget(tabs_);
        row->addStretch(1);
        column->addLayout(row);
        column->addWidget(stack_, 1);
        // Pages that are not shown have no say in how small the companion may be.
        stack_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Ignored);
        constexpr int least_height = 80;
        stack_->setMinimumHeight(least_height);
        tabs_->setAccessibleName(name);
        connect(tabs_, &TabStrip::chosen_by_user, this, &Companion::show_page);
    }

    // Several words may show the same widget; `page_shown` tells which was chosen.
    void add_page(const QString& word, QWidget* page) {
        words_ << word;
        pages_.push_back(page);
        if (stack_->indexOf(page) < 0) {
            stack_->addWidget(page);
        }
        tabs_->set_tabs(words_);
    }
    void show_page(int index) {
        tabs_->choose(index);
        stack_->setCurrentWidget(pages_.at(static_cast<std::size_t>(index)));
        emit page_shown(index);
    }
    void show_page_if_there(int index) {
        if (index >= 0 && index < words_.size()) {
            show_page(index);
        }
    }
    int shown_page() const { return tabs_->chosen(); }
    TabStrip* tabs() const { return tabs_; }

signals:
    void page_shown(int index);

private:
    TabStrip* tabs_;
    QStackedWidget* stack_;
    QStringList words_;
    std::vector<QWidget*> pages_;
};

} // namespace syntonon
