// A pane beside the lanes with words to switch what it shows.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/widgets/tab_strip.h"

#include <QStackedWidget>
#include <QVBoxLayout>
#include <QWidget>
#include <functional>
#include <utility>
#include <vector>

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
        add_page(word, [page] { return page; });
        this->page(static_cast<int>(words_.size()) - 1);
    }
    // Made when it is first shown or asked for, since a form of many fields is dear to build.
    void add_page(const QString& word, std::function<QWidget*()> make) {
        words_ << word;
        pages_.push_back({std::move(make), nullptr});
        tabs_->set_tabs(words_);
    }
    QWidget* page(int index) {
        Page& page = pages_.at(static_cast<std::size_t>(index));
        if (page.widget == nullptr) {
            page.widget = page.make();
            if (stack_->indexOf(page.widget) < 0) {
                stack_->addWidget(page.widget);
            }
        }
        return page.widget;
    }
    void show_page(int index) {
        tabs_->choose(index);
        stack_->setCurrentWidget(page(index));
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
    struct Page {
        std::function<QWidget*()> make;
        QWidget* widget;
    };

    TabStrip* tabs_;
    QStackedWidget* stack_;
    QStringList words_;
    std::vector<Page> pages_;
};

} // namespace syntonon
