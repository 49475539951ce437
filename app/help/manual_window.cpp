// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/help/manual_window.h"

#include "app/help/manual_places.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"

#include <QAbstractTextDocumentLayout>
#include <QApplication>
#include <QCursor>
#include <QHBoxLayout>
#include <QImage>
#include <QKeyEvent>
#include <QLineEdit>
#include <QPointer>
#include <QRegularExpression>
#include <QScrollBar>
#include <QSplitter>
#include <QTextBlock>
#include <QTextBrowser>
#include <QTextCursor>
#include <QTextList>
#include <QTimer>
#include <QToolButton>
#include <QTreeWidget>
#include <QTreeWidgetItemIterator>
#include <QVBoxLayout>
#include <QtMath>
#include <algorithm>
#include <functional>
#include <utility>

namespace syntonon {
namespace {

constexpr int spot_role = Qt::UserRole, text_role = Qt::UserRole + 1;

QString link_of(const ManualSpot& spot) {
    return spot.section.isEmpty() ? spot.page : spot.page + '#' + spot.section;
}

// Pictures as wide as the text at most; in another width the page is asked for anew.
class PageBrowser : public QTextBrowser {
public:
    explicit PageBrowser(std::function<void()> show_anew) {
        later_.setSingleShot(true);
        later_.setInterval(later_ms);
        connect(&later_, &QTimer::timeout, this, [this, show_anew = std::move(show_anew)] {
            shown_widest_ = widest();
            show_anew();
        });
        // Or an empty page, while it is made anew, would be wider than a full one.
        setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOn);
    }

protected:
    void resizeEvent(QResizeEvent* event) override {
        QTextBrowser::resizeEvent(event);
        if (widest() != shown_widest_) {
            later_.start();
        }
    }
    QVariant loadResource(int type, const QUrl& name) override {
        if (type != QTextDocument::ImageResource) {
            return QTextBrowser::loadResource(type, name);
        }
        QImage picture(manual_folder() + "/" + name.path());
        const qreal pixels = devicePixelRatioF();
        if (picture.width() > shown_widest_ * pixels) {
            picture =
                picture.scaledToWidth(qRound(shown_widest_ * pixels), Qt::SmoothTransformation);
        }
        picture.setDevicePixelRatio(pixels);
        return picture;
    }

private:
    static constexpr int widest_of_all = 640, least = 100, later_ms = 100;
    int widest() const {
        const int free = viewport()->width() - 2 * qRound(document()->documentMargin());
        return std::clamp(free, least, widest_of_all);
    }
    int shown_widest_ = widest_of_all;
    QTimer later_;
};

// Rows of tables with long cells as points of a list: they can be read in a narrow window, and Qt's
// layout of such tables takes seconds.
QString without_wide_tables(const QString& markdown) {
    constexpr qsizetype wide = 160;
    QStringList lines;
    bool in_wide_table = false;
    const QStringList all = markdown.split('\n');
    for (qsizetype i = 0; i < all.size(); ++i) {
        if (!all[i].startsWith("| ")) {
            in_wide_table = false;
            lines << all[i];
            continue;
        }
        if (!in_wide_table && i + 1 < all.size() && all[i + 1].startsWith("| ---")) {
            for (qsizetype row = i; row < all.size() && all[row].startsWith("| "); ++row) {
                in_wide_table = in_wide_table || all[row].size() > wide;
            }
            if (in_wide_table) { // its titles say what the cells show by themselves
                ++i;
                continue;
            }
        }
        lines << all[i];
        if (in_wide_table) {
            QString row = all[i].mid(2);
            row.replace("\\|", "\x1");
            QStringList cells = row.split(" | ");
            cells.last().remove(QRegularExpression(R"(\s*\|\s*$)"));
            lines.last() = "- " + cells.join(": ").replace("\x1", "|");
        }
    }
    return lines.join('\n');
}

// Room between paragraphs and above headings, which Markdown leaves to whom shows it.
void space_out(QTextDocument& document) {
    constexpr int above_heading = 22, below = 8, line_percent = 132;
    for (QTextBlock block = document.begin(); block.isValid(); block = block.next()) {
        QTextBlockFormat format = block.blockFormat();
        const bool is_heading = format.headingLevel() > 0;
        format.setTopMargin(is_heading && block.position() > 0 ? above_heading : 0);
        format.setBottomMargin(block.textList() != nullptr ? below / 2 : below);
        if (!is_heading && !block.text().contains(QChar::ObjectReplacementCharacter)) {
            format.setLineHeight(line_percent, QTextBlockFormat::ProportionalHeight);
        }
        QTextCursor(block).setBlockFormat(format);
    }
}

QTreeWidgetItem* item_of(const QString& title, const ManualSpot& spot, const QString& text) {
    auto* item = new QTreeWidgetItem({title});
    item->setData(0, spot_role, link_of(spot));
    item->setData(0, text_role, title + ' ' + text);
    return item;
}

bool has_all(const QString& text, const QStringList& words) {
    return std::ranges::all_of(
        words, [&](const QString& word) { return text.contains(word, Qt::CaseInsensitive); });
}

// Whether it or anything below it stays.
bool filter(QTreeWidgetItem& item, const QStringList& words) {
    bool stays = has_all(item.data(0, text_role).toString(), words);
    for (int i = 0; i < item.childCount(); ++i) {
        stays = filter(*item.child(i), words) || stays;
    }
    item.setHidden(!stays);
    return stays;
}

QToolButton* arrow(Qt::ArrowType type, const QString& name, const QKeySequence& keys) {
    auto* button = new QToolButton;
    button->setArrowType(type);
    button->setAutoRaise(true);
    button->setShortcut(keys);
    button->setAccessibleName(name);
    button->setToolTip(name);
    return button;
}

} // namespace

ManualWindow::ManualWindow(QWidget* parent)
    : QWidget(parent, Qt::Window), contents_(new QTreeWidget),
      page_(new PageBrowser([this] { show_page_anew(); })), search_(new QLineEdit),
      back_(arrow(Qt::LeftArrow, tr("back"), QKeySequence("Alt+Left"))),
      forward_(arrow(Qt::RightArrow, tr("forward"), QKeySequence("Alt+Right"))) {
    setWindowTitle(tr("Manual"));
    setObjectName("manual");
    constexpr int width = 1000, height = 720, left = 260;
    resize(width, height);
    search_->setPlaceholderText(tr("look for…"));
    search_->setAccessibleName(tr("Look for in the manual"));
    search_->setClearButtonEnabled(true);
    contents_->setHeaderHidden(true);
    contents_->setAccessibleName(tr("Contents of the manual"));
    contents_->setFrameShape(QFrame::NoFrame);
    page_->setAccessibleName(tr("Page of the manual"));
    page_->setOpenLinks(false);
    page_->setFrameShape(QFrame::NoFrame);
    constexpr int margin = 28;
    page_->document()->setDocumentMargin(margin);

    auto* row = new QHBoxLayout;
    row->addWidget(back_);
    row->addWidget(forward_);
    row->addWidget(search_, 1);
    auto* side = new QWidget;
    auto* column = new QVBoxLayout(side);
    constexpr int edge = 8;
    column->setContentsMargins(edge, edge, 0, edge);
    column->addLayout(row);
    column->addWidget(contents_, 1);
    auto* halves = new QSplitter;
    halves->addWidget(side);
    halves->addWidget(page_);
    halves->setStretchFactor(1, 1);
    halves->setSizes({left, width - left});
    auto* all = new QHBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->addWidget(halves);

    fill_contents();
    connect(contents_, &QTreeWidget::itemClicked, this,
            [this](QTreeWidgetItem* item) { go(spot_of(item->data(0, spot_role).toString())); });
    connect(contents_, &QTreeWidget::itemActivated, this,
            [this](QTreeWidgetItem* item) { go(spot_of(item->data(0, spot_role).toString())); });
    connect(page_, &QTextBrowser::anchorClicked, this, [this](const QUrl& link) {
        ManualSpot spot = spot_of(link.toString());
        spot.page = spot.page.isEmpty() ? spot_.page : spot.page;
        go(spot);
    });
    connect(search_, &QLineEdit::textChanged, this, &ManualWindow::look_for);
    connect(search_, &QLineEdit::returnPressed, this, [this] { contents_->setFocus(); });
    connect(back_, &QToolButton::clicked, this, [this] { turn(-1); });
    connect(forward_, &QToolButton::clicked, this, [this] { turn(1); });
    connect(&theme_notifier(), &ThemeNotifier::changed, this, &ManualWindow::show_page);
}

void ManualWindow::fill_contents() {
    for (const ManualPage& page : manual_pages()) {
        auto* item = item_of(page.title, {page.name, {}},
                             page.sections.isEmpty() ? page.text
                                                     : page.text.left(page.text.indexOf("\n## ")));
        contents_->addTopLevelItem(item);
        for (const ManualSection& section : page.sections) {
            item->addChild(item_of(section.title, section.spot, section.text));
        }
    }
}

void ManualWindow::look_for(const QString& words) {
    const QStringList all = words.split(' ', Qt::SkipEmptyParts);
    QTreeWidgetItem* first = nullptr;
    for (int i = 0; i < contents_->topLevelItemCount(); ++i) {
        QTreeWidgetItem* item = contents_->topLevelItem(i);
        const bool stays = filter(*item, all);
        item->setExpanded(stays && !all.isEmpty());
        first = first == nullptr && stays ? item : first;
    }
    if (first != nullptr && !all.isEmpty()) {
        contents_->setCurrentItem(first);
    }
}

void ManualWindow::show_spot(const ManualSpot& spot) {
    go(spot);
}

void ManualWindow::go(const ManualSpot& spot) {
    if (at_ < 0 || seen_.at(at_) != spot) {
        seen_.resize(at_ + 1);
        seen_.append(spot);
        ++at_;
    }
    spot_ = spot;
    show_page();
}

void ManualWindow::turn(int by) {
    if (at_ + by >= 0 && at_ + by < seen_.size()) {
        at_ += by;
        spot_ = seen_.at(at_);
        show_page();
    }
}

void ManualWindow::show_page() {
    back_->setEnabled(at_ > 0);
    forward_->setEnabled(at_ + 1 < seen_.size());
    const auto page = manual_page(spot_.page);
    page_->document()->setMarkdown(
        page ? without_wide_tables(page->text)
             : tr("# The page is missing\n\nThe manual lies in `share/syntonon/docs/manual` beside "
                  "the program; install the program anew to get it back."));
    space_out(*page_->document());
    if (isVisible()) {
        scroll_to_section();
    }
    mark_in_contents();
}

// Where it was, as far as its length is the same.
void ManualWindow::show_page_anew() {
    QScrollBar& bar = *page_->verticalScrollBar();
    const double part = bar.maximum() > 0 ? double(bar.value()) / bar.maximum() : 0;
    show_page();
    bar.setValue(qRound(part * bar.maximum()));
}

void ManualWindow::scroll_to_section() {
    page_->verticalScrollBar()->setValue(0);
    if (spot_.section.isEmpty()) {
        return;
    }
    for (QTextBlock block = page_->document()->begin(); block.isValid(); block = block.next()) {
        if (block.blockFormat().headingLevel() > 0 && slug_of(block.text()) == spot_.section) {
            const auto* layout = page_->document()->documentLayout();
            page_->verticalScrollBar()->setValue(qFloor(layout->blockBoundingRect(block).top()));
            page_->setTextCursor(QTextCursor(block));
            return;
        }
    }
}

void ManualWindow::mark_in_contents() {
    for (QTreeWidgetItemIterator at(contents_); *at != nullptr; ++at) {
        if ((*at)->data(0, spot_role).toString() == link_of(spot_)) {
            contents_->setCurrentItem(*at);
            contents_->scrollToItem(*at);
            return;
        }
    }
}

void ManualWindow::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    QTimer::singleShot(0, this, &ManualWindow::scroll_to_section); // laid out by then
}

void show_manual(const ManualSpot& spot) {
    static QPointer<ManualWindow> window;
    if (window == nullptr) {
        window = new ManualWindow;
        window->setAttribute(Qt::WA_DeleteOnClose);
        window->setAttribute(Qt::WA_QuitOnClose, false); // the program ends with its last study
    }
    window->show_spot(spot);
    window->show();
    window->raise();
    window->activateWindow();
}

bool ManualKey::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress) {
        const auto* key = static_cast<QKeyEvent*>(event); // NOLINT(*static-cast-downcast)
        if (key->key() == Qt::Key_F1 && key->modifiers() == Qt::NoModifier
            && watched->isWidgetType()) {
            const ManualSpot nothing_special{"contents", {}};
            ManualSpot spot = manual_spot_of(QApplication::focusWidget());
            if (spot == nothing_special) {
                spot = manual_spot_of(QApplication::widgetAt(QCursor::pos()));
            }
            show_manual(spot);
            return true;
        }
    }
    return QObject::eventFilter(watched, event);
}

} // namespace syntonon
