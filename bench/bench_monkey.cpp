// A monkey at the window: random clicks, drags, wheels, keys, menus and typing on the demo study,
// with what it is shown in between looked at. Meant for a build with sanitizers.
//   bench_monkey [SECONDS [SEED]]          CPU seconds, 60 when not given
// Now and then the study is written and read again, and all that was done is undone and done again:
// both must leave it as it was. Ends with 1 where they do not; the log of what was done last is
// then on standard output, and can be had again by the seed. A warning of Qt ends it as well:
// nobody meant to draw what is no number. So does what a sanitizer finds, with the same log.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/help/manual_window.h"
#include "app/main_window.h"
#include "app/top_bar.h"
#include "app/tour/tour.h"
#include "app/widgets/theme.h"
#include "core/study/study_json.h"

#include <QAbstractItemView>
#include <QAction>
#include <QApplication>
#include <QContextMenuEvent>
#include <QDialog>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMenu>
#include <QMenuBar>
#include <QMouseEvent>
#include <QSettings>
#include <QTimer>
#include <QWheelEvent>
#include <cstdio>
#include <cstdlib>
#include <ctime>
#include <deque>
#include <random>
#include <utility>

#ifdef __SANITIZE_ADDRESS__
#include <sanitizer/common_interface_defs.h>
#endif

namespace {

using namespace syntonon;

constexpr std::size_t most_remembered = 60;
constexpr int looks_every = 400, answers_after_ms = 250;

class Monkey {
public:
    Monkey(MainWindow& window, unsigned long seed) : window_(window), random_(seed) {
        at_work = this;
    }
    ~Monkey() { at_work = nullptr; }
    Monkey(const Monkey&) = delete;
    Monkey& operator=(const Monkey&) = delete;
    Monkey(Monkey&&) = delete;
    Monkey& operator=(Monkey&&) = delete;

    static inline const Monkey* at_work = nullptr; // asked where a warning ends the program

    void step() {
        switch (below(20)) {
        case 0:
        case 1:
            return use_menu();
        case 2:
        case 3:
            return type();
        case 4:
        case 5:
            return press_keys();
        case 6:
            return turn_wheel();
        case 7:
        case 8:
        case 9:
        case 10:
            return drag();
        case 11:
            return change_place();
        default:
            return click();
        }
    }
    void tell() const {
        for (const std::string& each : done_) {
            std::printf("  %s\n", each.c_str());
        }
    }

private:
    std::size_t below(std::size_t count) {
        return std::uniform_int_distribution<std::size_t>(0, count - 1)(random_);
    }
    void remember(const QString& what, const QWidget* where = nullptr) {
        QString text = what;
        if (where != nullptr) {
            text +=
                QString(" on ") + where->metaObject()->className() + ' ' + where->accessibleName();
        }
        done_.push_back(text.toStdString());
        if (done_.size() > most_remembered) {
            done_.pop_front();
        }
    }
    // Where hands can reach: what a dialog leaves free.
    QWidget* top() const {
        if (QWidget* popup = QApplication::activePopupWidget()) {
            return popup;
        }
        if (QWidget* modal = QApplication::activeModalWidget()) {
            return modal;
        }
        return &window_;
    }
    QWidget* any_widget() {
        QList<QWidget*> all = {top()};
        for (QWidget* each : top()->findChildren<QWidget*>()) {
            if (each->isVisible() && each->isEnabled() && !each->size().isEmpty()) {
                all.append(each);
            }
        }
        return all.at(static_cast<qsizetype>(below(static_cast<std::size_t>(all.size()))));
    }
    QPointF place_in(const QWidget& widget) {
        return {double(below(static_cast<std::size_t>(widget.width()))),
                double(below(static_cast<std::size_t>(widget.height())))};
    }
    Qt::KeyboardModifiers modifiers() {
        switch (below(6)) {
        case 0:
            return Qt::ShiftModifier;
        case 1:
            return Qt::ControlModifier;
        default:
            return Qt::NoModifier;
        }
    }
    static void send(QWidget& to, QEvent::Type type, const QPointF& at, Qt::MouseButton button,
                     Qt::MouseButtons buttons, Qt::KeyboardModifiers keys) {
        QMouseEvent event(type, at, to.mapToGlobal(at), button, buttons, keys);
        QApplication::sendEvent(&to, &event);
    }
    // What is pressed may be gone by the time that it is let go.
    void click() {
        QPointer<QWidget> at = any_widget();
        const QPointF where = place_in(*at);
        const auto keys = modifiers();
        const auto button = below(8) == 0 ? Qt::RightButton : Qt::LeftButton;
        remember(button == Qt::RightButton ? "right click" : "click", at);
        send(*at, QEvent::MouseMove, where, Qt::NoButton, Qt::NoButton, keys);
        if (at != nullptr) {
            send(*at, QEvent::MouseButtonPress, where, button, button, keys);
        }
        if (at != nullptr && button == Qt::RightButton) {
            QContextMenuEvent menu(QContextMenuEvent::Mouse, where.toPoint(),
                                   at->mapToGlobal(where.toPoint()));
            QApplication::sendEvent(at, &menu);
        }
        if (at != nullptr) {
            send(*at, QEvent::MouseButtonRelease, where, button, Qt::NoButton, keys);
        }
        if (at != nullptr && below(6) == 0) {
            remember("double click", at);
            send(*at, QEvent::MouseButtonDblClick, where, button, button, keys);
            if (at != nullptr) {
                send(*at, QEvent::MouseButtonRelease, where, button, Qt::NoButton, keys);
            }
        }
    }
    void drag() {
        QPointer<QWidget> at = any_widget();
        const auto keys = modifiers();
        const QPointF from = place_in(*at), to = place_in(*at);
        remember("drag", at);
        send(*at, QEvent::MouseButtonPress, from, Qt::LeftButton, Qt::LeftButton, keys);
        constexpr int moves = 6;
        for (int i = 1; i <= moves && at != nullptr; ++i) {
            send(*at, QEvent::MouseMove, from + (to - from) * i / moves, Qt::NoButton,
                 Qt::LeftButton, keys);
            QApplication::processEvents();
        }
        if (at != nullptr && below(10) == 0) {
            key(*at, Qt::Key_Escape, Qt::NoModifier, {});
        }
        if (at != nullptr) {
            send(*at, QEvent::MouseButtonRelease, to, Qt::LeftButton, Qt::NoButton, keys);
        }
    }
    void turn_wheel() {
        QWidget* at = any_widget();
        const QPointF where = place_in(*at);
        const int turn = below(2) == 0 ? 120 : -120;
        remember("wheel", at);
        QWheelEvent event(where, at->mapToGlobal(where), {}, {0, turn}, Qt::NoButton, modifiers(),
                          Qt::NoScrollPhase, false);
        QApplication::sendEvent(at, &event);
    }
    static void key(QWidget& to, int key, Qt::KeyboardModifiers keys, const QString& text) {
        QPointer<QWidget> at = &to;
        QKeyEvent press(QEvent::KeyPress, key, keys, text);
        QApplication::sendEvent(at, &press);
        if (at != nullptr) {
            QKeyEvent release(QEvent::KeyRelease, key, keys, text);
            QApplication::sendEvent(at, &release);
        }
    }
    // Where the platform has no windows, the focus may stay in a list that has been closed.
    QWidget* focus() {
        QWidget* has = QApplication::focusWidget();
        const bool is_here = has != nullptr && has->isVisible() && has->isEnabled()
                             && (has == top() || top()->isAncestorOf(has));
        return is_here ? has : top();
    }
    void press_keys() {
        constexpr int keys[] = {Qt::Key_Left,     Qt::Key_Right,  Qt::Key_Up,     Qt::Key_Down,
                                Qt::Key_PageUp,   Qt::Key_Tab,    Qt::Key_Return, Qt::Key_Escape,
                                Qt::Key_Delete,   Qt::Key_Space,  Qt::Key_Home,   Qt::Key_Backspace,
                                Qt::Key_PageDown, Qt::Key_Backtab};
        const int which = keys[below(std::size(keys))];
        remember("key " + QKeySequence(which).toString(), focus());
        key(*focus(), which, modifiers(), which == Qt::Key_Space ? " " : "");
    }
    void type() {
        static const QString texts[] = {"1k",
                                        "-6 dB",
                                        "0",
                                        "1e300",
                                        "x0.5",
                                        "nonsense",
                                        "2*pi*750 rad/s",
                                        "-1",
                                        "0.707",
                                        "12000",
                                        "0.25 fs",
                                        "b: 1, 2",
                                        "y[n] = x[n] + 0.5 y[n-1]",
                                        "open",
                                        "-40 to -60",
                                        "é“",
                                        "1/0",
                                        "2.1 ms",
                                        "48000"};
        QWidget* to = focus();
        const QString& text = texts[below(std::size(texts))];
        remember("type " + text, to);
        if (auto* line = qobject_cast<QLineEdit*>(to)) {
            line->selectAll();
        }
        QPointer<QWidget> at = to;
        for (const QChar c : text) {
            if (at != nullptr) {
                key(*at, c.toUpper().unicode(), Qt::NoModifier, QString(c));
            }
        }
        if (at != nullptr && below(3) != 0) {
            key(*at, Qt::Key_Return, Qt::NoModifier, "\r");
        }
    }
    static void collect(QMenu& menu, QList<QAction*>& all) {
        emit menu.aboutToShow();
        for (QAction* action : menu.actions()) {
            if (action->menu() != nullptr) {
                collect(*action->menu(), all);
            } else if (action->isEnabled() && !action->isSeparator()
                       && !action->text().contains("Quit")
                       && !action->text().contains("first hour")) {
                all.append(action);
            }
        }
    }
    // Those of the bar; what a panel's button opens is come by with clicks.
    void use_menu() {
        QList<QAction*> all;
        for (QAction* action : window_.top_bar()->menus()->actions()) {
            collect(*action->menu(), all);
        }
        if (top() == &window_ && !all.isEmpty()) {
            QAction* chosen =
                all.at(static_cast<qsizetype>(below(static_cast<std::size_t>(all.size()))));
            remember("menu " + chosen->text());
            chosen->trigger();
        }
    }
    void change_place() {
        const auto desk = all_desks[below(all_desks.size())];
        if (top() != &window_) {
            return;
        }
        remember("another desk or channel");
        window_.show_desk(desk);
        const std::size_t channels = window_.session().study().channels.size();
        if (channels > 0) {
            window_.session().select_channel(static_cast<int>(below(channels)));
        }
    }

    MainWindow& window_;
    std::mt19937_64 random_;
    std::deque<std::string> done_;
};

// Dialogs that wait for an answer are closed after a while; whatever was typed into them is not
// accepted, so that no file is written where nobody chose.
void close_what_waits() {
    if (QWidget* popup = QApplication::activePopupWidget()) {
        popup->close();
    } else if (auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget())) {
        dialog->reject();
    }
}

bool comes_back(const Study& study) {
    const std::string text = json_from_study(study);
    const auto read = study_from_json(text);
    if (!read) {
        std::printf("broken: what was written is refused: %s\n", to_text(read.error()).c_str());
        return false;
    }
    if (json_from_study(read->study) != text) {
        std::printf("broken: the study does not come back as it was\n");
        return false;
    }
    return true;
}

bool undoes_and_redoes(Session& session) {
    const std::string now = json_from_study(session.study());
    const int at = session.history().index();
    session.history().setIndex(0);
    session.history().setIndex(at);
    if (json_from_study(session.study()) != now) {
        std::printf("broken: undone and done again it is another study\n");
        return false;
    }
    return true;
}

void tell_last() {
    if (const Monkey* told = std::exchange(Monkey::at_work, nullptr)) {
        told->tell();
    }
    std::fflush(stdout);
}

void end_at_warning(QtMsgType type, const QMessageLogContext&, const QString& words) {
    const bool is_of_platform =
        words.startsWith("This plugin does not support") || words.startsWith("QStandardPaths");
    if (type != QtDebugMsg && type != QtInfoMsg && !is_of_platform) {
        std::printf("broken: Qt says: %s\n", qUtf8Printable(words));
        tell_last();
        std::abort();
    }
}

} // namespace

int main(int argc, char** argv) {
    if (!use_home_of_tour()) { // nothing of the user's is touched
        return 2;
    }
    qputenv("QT_QPA_PLATFORM", "offscreen");
    qInstallMessageHandler(&end_at_warning);
#ifdef __SANITIZE_ADDRESS__
    __sanitizer_set_death_callback(&tell_last);
#endif
    QApplication application(argc, argv);
    QCoreApplication::setApplicationName("syntonon-monkey");
    QCoreApplication::setOrganizationName("syntonon");
    const double seconds = argc > 1 ? std::atof(argv[1]) : 60;
    const unsigned long seed = argc > 2 ? std::strtoul(argv[2], nullptr, 10) : 1;
    use_theme(application, ThemeName::paper);
    QTimer closing;
    QObject::connect(&closing, &QTimer::timeout, &application, &close_what_waits);
    closing.start(answers_after_ms);
    long steps = 0, studies = 0;
    unsigned long round = seed;
    while (double(std::clock()) / CLOCKS_PER_SEC < seconds) {
        auto window = std::make_unique<MainWindow>();
        window->resize(1280, 800);
        window->open_demo();
        window->show();
        Monkey monkey(*window, round++);
        ++studies;
        constexpr long steps_a_study = 4000;
        for (long n = 0; n < steps_a_study && double(std::clock()) / CLOCKS_PER_SEC < seconds;
             ++n) {
            monkey.step();
            QApplication::processEvents();
            ++steps;
            if (n % looks_every == looks_every - 1) {
                close_what_waits();
                window->grab();
                if (!comes_back(window->session().study())
                    || !undoes_and_redoes(window->session())) {
                    monkey.tell();
                    std::printf("seed %lu, step %ld\n", round - 1, n);
                    return 1;
                }
            }
        }
        window->session().mark_saved();
        window->files().close();
        window.reset();
        std::printf("%ld studies, %ld steps, %.0f s\n", studies, steps,
                    double(std::clock()) / CLOCKS_PER_SEC);
        std::fflush(stdout);
    }
    return 0;
}
