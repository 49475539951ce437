// No word is cut off in the smallest window that is meant to be used.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/every_view.h"
#include "tests/app/window_fixture.h"

#include "app/widgets/field.h"
#include "app/widgets/quantity_edit.h"

#include <QAbstractButton>
#include <QComboBox>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <set>

namespace syntonon {
namespace {

class Clipping : public test::Window {
protected:
    void SetUp() override {
        Window::SetUp();
        constexpr int width = 1100, height = 658; // 680 less a desktop's title bar
        window->resize(width, height);
        QApplication::processEvents();
    }
    test::VisitView visit() {
        return [this](const std::string& where) {
            QApplication::processEvents();
            for (const QWidget* widget : window->findChildren<QWidget*>()) {
                if (widget->isVisible()) {
                    expect_room(*widget, where);
                }
            }
        };
    }

private:
    void expect_room(const QWidget& widget, const std::string& where) {
        constexpr int arrow = 18; // of a box that opens
        if (const auto* label = qobject_cast<const QLabel*>(&widget)) {
            const bool may_be_short =
                label->wordWrap() || label->sizePolicy().horizontalPolicy() == QSizePolicy::Ignored;
            if (!may_be_short) {
                expect_width(*label, label->text().section('\n', 0, 0), 0, where);
            }
        } else if (const auto* button = qobject_cast<const QAbstractButton*>(&widget)) {
            const int padding = qobject_cast<const QPushButton*>(button) != nullptr ? 26 : 0;
            expect_width(*button, button->text(), padding, where);
        } else if (const auto* box = qobject_cast<const QComboBox*>(&widget)) {
            const bool is_name = box->sizePolicy().horizontalPolicy() == QSizePolicy::Ignored;
            if (!is_name) { // of whatever length
                expect_width(*box, box->currentText(), arrow, where);
            }
        } else if (const auto* titles = qobject_cast<const QHeaderView*>(&widget)) {
            expect_titles(*titles, where);
        } else if (const auto* line = qobject_cast<const QLineEdit*>(&widget)) {
            constexpr int margins = 4;
            const bool is_number = qobject_cast<const QuantityEdit*>(line) != nullptr
                                   || qobject_cast<const Field*>(line->parentWidget()) != nullptr;
            if (is_number) {
                expect_width(*line, line->text(), margins, where);
            }
        }
    }
    void expect_titles(const QHeaderView& titles, const std::string& where) {
        for (int i = 0; i < titles.count() && titles.orientation() == Qt::Horizontal; ++i) {
            const QString title = titles.model()->headerData(i, Qt::Horizontal).toString();
            int wanted = 0;
            for (const QString& line : title.split('\n')) {
                wanted = std::max(wanted, titles.fontMetrics().horizontalAdvance(line));
            }
            if (titles.sectionSize(i) < wanted && told_.insert(title).second) {
                ADD_FAILURE() << "title “" << title.toStdString() << "” has "
                              << titles.sectionSize(i) << " of " << wanted << " points, " << where;
            }
        }
    }
    void expect_width(const QWidget& widget, QString text, int more, const std::string& where) {
        text.remove('&');
        const int wanted = widget.fontMetrics().horizontalAdvance(text) + more;
        if (widget.width() < wanted && told_.insert(text).second) {
            ADD_FAILURE() << "“" << text.toStdString() << "” has " << widget.width() << " of "
                          << wanted << " points, " << where;
        }
    }
    std::set<QString> told_; // once is enough
};

TEST_F(Clipping, NoneOnAnyDesk) {
    test::each_desk(*window, visit());
}

TEST_F(Clipping, NoneOnAnyPage) {
    test::each_page_of_shape(*window, visit());
}

TEST_F(Clipping, NoneInTheGoal) {
    test::each_tab_of_the_goal(*window, visit());
}

TEST_F(Clipping, NoneInAnyTrimStrip) {
    use_empty_channel();
    test::each_kind_of_stage(*window, visit());
}

} // namespace
} // namespace syntonon
