// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/tour/tour.h"

#include "app/main_window.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"

#include <QCoreApplication>
#include <QDir>
#include <QEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QProcess>
#include <QPushButton>
#include <QTemporaryDir>
#include <QVBoxLayout>
#include <algorithm>

namespace syntonon {
namespace {

// A copper line about what a step is about; the pointer goes through it.
class Ring : public QWidget {
public:
    explicit Ring(QWidget* parent) : QWidget(parent) {
        setAttribute(Qt::WA_TransparentForMouseEvents);
        setFocusPolicy(Qt::NoFocus);
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        constexpr int thick = 2;
        painter.setPen(QPen(theme().copper, thick, Qt::DashLine));
        painter.drawRect(rect().adjusted(1, 1, -2, -2));
    }
};

constexpr int panel_width = 340, panel_gap = 14;
constexpr int tour_looks_every_ms = 150;

} // namespace

Tour::Tour(MainWindow& window)
    : QFrame(&window), window_(window), steps_(tour_steps()), ring_(new Ring(&window)),
      number_(new QLabel), title_(new QLabel), text_(new QLabel), state_(new QLabel),
      back_(new QPushButton(tr("Back"))), show_(new QPushButton(tr("Show me"))),
      next_(new QPushButton(tr("Next"))), leave_(new QPushButton(tr("Leave"))) {
    setObjectName("tour");
    setAccessibleName(tr("The first hour"));
    setFrameShape(QFrame::Box);
    setAutoFillBackground(true);
    setBackgroundRole(QPalette::Base);
    setFixedWidth(panel_width);
    constexpr int title_px = 16, text_px = 13;
    title_->setFont(text_font(title_px, QFont::DemiBold));
    text_->setFont(text_font(text_px));
    text_->setWordWrap(true);
    auto* head = new QHBoxLayout;
    head->addWidget(title_, 1);
    head->addWidget(number_);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(leave_);
    buttons->addStretch(1);
    buttons->addWidget(back_);
    buttons->addWidget(show_);
    buttons->addWidget(next_);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(panel_gap, panel_gap, panel_gap, panel_gap);
    column->addLayout(head);
    column->addWidget(text_);
    column->addWidget(state_);
    column->addLayout(buttons);
    connect(back_, &QPushButton::clicked, this, [this] { go_to(step_ - 1); });
    connect(next_, &QPushButton::clicked, this, [this] { go_to(step_ + 1); });
    connect(leave_, &QPushButton::clicked, this, &Tour::leave);
    connect(show_, &QPushButton::clicked, this, [this] {
        steps_.at(step_).show(window_);
        look();
    });
    connect(&looking_, &QTimer::timeout, this, &Tour::look);
    window_.installEventFilter(this);
    window_.open_demo();
    looking_.start(tour_looks_every_ms);
    show_step();
    show();
    next_->setFocus();
}

Tour::~Tour() = default;

bool Tour::is_done() const {
    const TourStep& step = steps_.at(step_);
    return !step.is_done || step.is_done(window_);
}

void Tour::go_to(int step) {
    if (step >= count()) {
        leave();
        return;
    }
    step_ = std::max(0, step);
    show_step();
}

void Tour::show_step() {
    const TourStep& step = steps_.at(step_);
    if (step.prepare) {
        step.prepare(window_);
    }
    was_done_ = false;
    number_->setText(tr("%1 of %2").arg(step_ + 1).arg(count()));
    title_->setText(step.title);
    text_->setText(step.text);
    back_->setEnabled(step_ > 0);
    show_->setVisible(static_cast<bool>(step.show));
    next_->setText(step_ + 1 < count() ? tr("Next") : tr("End"));
    look();
}

void Tour::look() {
    const TourStep& step = steps_.at(step_);
    was_done_ = was_done_ || is_done(); // what was done once stays so, whatever is done next
    state_->setText(step.is_done ? (was_done_ ? tr("● done") : tr("◇ your turn")) : QString());
    show_->setEnabled(!was_done_);
    const QWidget* place = step.place ? step.place(window_) : nullptr;
    const bool is_ringed = place != nullptr && place->isVisible();
    const QRect ringed =
        is_ringed ? QRect(place->mapTo(&window_, QPoint(0, 0)), place->size()) : QRect();
    const bool is_as_before = ring_->isVisible() == is_ringed && ring_->geometry() == ringed
                              && height() == heightForWidth(panel_width)
                              && window_.children().constLast() == this; // on top of all
    if (is_as_before) {
        return;
    }
    ring_->setGeometry(ringed);
    ring_->setVisible(is_ringed);
    ring_->raise();
    raise();
    place_panel(ringed);
}

void Tour::place_panel(const QRect& ringed) {
    const QSize size(panel_width, heightForWidth(panel_width));
    const QRect all = window_.rect().adjusted(panel_gap, 3 * panel_gap, -panel_gap, -5 * panel_gap);
    const QPoint corners[] = {
        {all.right() - size.width(), all.bottom() - size.height()},
        {all.left(), all.bottom() - size.height()},
        {all.right() - size.width(), all.top()},
        {all.left(), all.top()},
    };
    const auto covered = [&](const QPoint& corner) {
        const QRect both = QRect(corner, size) & ringed;
        return both.width() * both.height();
    };
    const QPoint best = *std::ranges::min_element(corners, {}, covered);
    setGeometry(QRect(best, size));
}

void Tour::leave() {
    looking_.stop();
    ring_->hide();
    ring_->deleteLater();
    window_.removeEventFilter(this);
    window_.session().mark_saved(); // nothing of it is to be asked about
    hide();
    deleteLater();
}

bool Tour::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::Close) {
        window_.session().mark_saved();
    } else if (event->type() == QEvent::Resize) {
        place_panel(ring_->isVisible() ? ring_->geometry() : QRect());
    }
    return QFrame::eventFilter(watched, event);
}

bool use_home_of_tour() {
    static const QTemporaryDir home;
    if (!home.isValid()) {
        return false;
    }
    for (const char* of :
         {"XDG_CONFIG_HOME", "XDG_DATA_HOME", "XDG_STATE_HOME", "XDG_CACHE_HOME", "HOME"}) {
        const QString folder = home.filePath(QString(of).toLower());
        QDir().mkpath(folder);
        qputenv(of, QFile::encodeName(folder));
    }
    return true;
}

void start_tour_beside() {
    QProcess::startDetached(QCoreApplication::applicationFilePath(), {"--tour"});
}

} // namespace syntonon
