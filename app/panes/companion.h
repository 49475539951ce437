// A pane beside the lanes with words to switch what it shows.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/widgets/page_stack.h"
#include "app/widgets/tab_strip.h"

#include <QVBoxLayout>
#include <QWidget>
#include <algorithm>
#include <functional>
#include <utility>
#include <vector>

namespace syntonon {

class Companion : public QWidget {
    Q_OBJECT

public:
    explicit Companion(const QString& name, QWidget* parent = nullptr)
        : QWidget(parent), tabs_(new TabStrip(TabStrip::Look::words)), stack_(new PageStack) {
        auto* column = new QVBoxLayout(this);
        column->setContentsMargins(0, 4, 0, 0);
        column->setSpacing(0);
        auto* row = new QHBoxLayout;
        row->setContentsMargins(16, 0, 16, 0);
        row->addWidget(tabs_);
        row->addStretch(1);
        column->addLayout(row);
        column->addWidget(stack_, 1);
        constexpr int least_height = 80;
        stack_->setMinimumHeight(least_height);
        tabs_->setAccessibleName(name);
        connect(tabs_, &TabStrip::chosen_by_user, this,
                [this](int tab) { show_page(page_of(tab)); });
    }

    // Several words may show the same widget; `page_shown` tells which was chosen.
    void add_page(const QString& word, QWidget* page) {
        add_page(word, [page] { return page; });
        this->page(static_cast<int>(pages_.size()) - 1);
    }
    // Made when it is first shown or asked for, since a form of many fields is dear to build.
    void add_page(const QString& word, std::function<QWidget*()> make) {
        pages_.push_back({word, std::move(make), nullptr, true});
        show_words();
    }
    // A page that is not there has no word; when it is the shown one, the first takes its place.
    void set_page_there(int index, bool there) {
        Page& page = pages_.at(static_cast<std::size_t>(index));
        if (page.there == there) {
            return;
        }
        const int shown = shown_page();
        page.there = there;
        show_words();
        if (!there && shown == index) {
            show_page(0);
        } else {
            tabs_->choose(tab_of(shown));
        }
    }
    bool is_page_there(int index) const { return pages_.at(static_cast<std::size_t>(index)).there; }
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
        set_page_there(index, true);
        tabs_->choose(tab_of(index));
        stack_->setCurrentWidget(page(index));
        emit page_shown(index);
    }
    void show_page_if_there(int index) {
        if (index >= 0 && index < static_cast<int>(pages_.size()) && is_page_there(index)) {
            show_page(index);
        }
    }
    int shown_page() const { return page_of(tabs_->chosen()); }
    TabStrip* tabs() const { return tabs_; }

signals:
    void page_shown(int index);

private:
    struct Page {
        QString word;
        std::function<QWidget*()> make;
        QWidget* widget;
        bool there;
    };

    // Words stand for the pages that are there.
    int page_of(int tab) const {
        int page = -1;
        for (int left = tab; left >= 0 && ++page < static_cast<int>(pages_.size());) {
            left -= pages_[static_cast<std::size_t>(page)].there ? 1 : 0;
        }
        return page;
    }
    int tab_of(int page) const {
        return static_cast<int>(std::count_if(pages_.begin(), pages_.begin() + page,
                                              [](const Page& before) { return before.there; }));
    }
    void show_words() {
        QStringList words;
        for (const Page& page : pages_) {
            if (page.there) {
                words << page.word;
            }
        }
        tabs_->set_tabs(words);
    }

    TabStrip* tabs_;
    PageStack* stack_;
    std::vector<Page> pages_;
};

} // namespace syntonon
