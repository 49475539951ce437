// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/roots/roots_pane.h"

#include "app/widgets/menu_button.h"
#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/study/words.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>
#include <QToolButton>
#include <QToolTip>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr double reach = 8; // of a click, in pixels
constexpr int rest_ms = 150;

} // namespace

RootsPane::RootsPane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session),
      add_(menu_button(tr("Add"), tr("Add a pole or a zero"), this)),
      change_(menu_button(tr("Change"), tr("Change the roots in hand"), this)),
      show_(menu_button(tr("Show"), tr("What the plane shows"), this)) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(200, 240);
    setAccessibleName(
        tr("Roots: poles and zeros in the z-plane, or the s-plane of an analog channel"));
    make_buttons();
    refine_.setSingleShot(true);
    refine_.setInterval(rest_ms);
    connect(&refine_, &QTimer::timeout, this, [this] {
        is_coarse_ = false;
        update();
    });
    forget_.setSingleShot(true);
    forget_.setInterval(Glimpse::moment_ms);
    connect(&forget_, &QTimer::timeout, this, [this] {
        before_.clear();
        update();
    });
    connect(&session_, &Session::analysis_changed, this, &RootsPane::follow_analysis);
    connect(&session_.slow_roots(), &SlowRoots::found, this, qOverload<>(&QWidget::update));
    connect(&session_, &Session::selection_changed, this, [this] {
        const auto& held = session_.roots_in_hand().roots();
        if (std::ranges::none_of(held, [this](const RootRef& root) {
                return root.stage == session_.selection().stage;
            })) {
            session_.roots_in_hand().hold({});
        }
        update();
    });
    connect(&session_.roots_in_hand(), &RootsInHand::changed, this, qOverload<>(&QWidget::update));
    connect(&session_.plumb(), &PlumbLine::changed, this, qOverload<>(&QWidget::update));
}

void RootsPane::make_buttons() {
    connect(add_->menu(), &QMenu::aboutToShow, this, [this] {
        add_->menu()->clear();
        fill_add(*add_->menu(), plumb_place());
    });
    connect(change_->menu(), &QMenu::aboutToShow, this, [this] {
        change_->menu()->clear();
        fill_change(*change_->menu());
    });
    connect(show_->menu(), &QMenu::aboutToShow, this, [this] {
        show_->menu()->clear();
        fill_show(*show_->menu());
    });
}

QMenu* RootsPane::menu(int index) const {
    QMenu* menu = (index == 0 ? add_ : index == 1 ? change_ : show_)->menu();
    emit menu->aboutToShow();
    return menu;
}

void RootsPane::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    int left = 10;
    for (QToolButton* button : {add_, change_, show_}) {
        button->move(left, 2);
        left += button->sizeHint().width() + 4;
    }
}

void RootsPane::follow_analysis() {
    if (drag_ && look_.shows_any()) {
        is_coarse_ = true;
        refine_.start();
    }
    update();
}

void RootsPane::show_roots(RootsShown shown) {
    shown_ = shown;
    update();
}

void RootsPane::show_relief(const ReliefLook& look) {
    look_ = look;
    update();
}

// Where the plumb line stands, a little inside; a quarter of the axis without one.
Complex RootsPane::plumb_place() const {
    const Axis axis = session_.axis();
    const double hz = session_.plumb().hz().value_or(1000);
    if (axis.is_analog()) {
        const double w = rad_per_s_from_hz(hz);
        return {-w / 4, w};
    }
    constexpr double inside = 0.95;
    return std::polar(inside, axis.rad_per_sample(std::min(hz, axis.end_hz())));
}

void RootsPane::fill_add(QMenu& menu, const Complex& at) {
    const auto offer = [&](const QString& text, bool pole, const Complex& where) {
        menu.addAction(text, this, [this, pole, where] { add(pole, where); });
    };
    const Complex upper(at.real(), std::abs(at.imag()));
    offer(tr("Pole pair"), true, upper);
    offer(tr("Zero pair"), false, upper);
    offer(tr("Single pole"), true, {at.real(), 0});
    offer(tr("Single zero"), false, {at.real(), 0});
    menu.addSeparator();
    const bool own = session_.stage() != nullptr && kind_of(session_.stage()->spec) == "roots";
    menu.addAction(own ? tr("into the selected stage") : tr("as a new stage of roots"))
        ->setEnabled(false);
}

void RootsPane::fill_change(QMenu& menu) {
    const bool any = !session_.roots_in_hand().roots().empty();
    const auto offer = [&](const QString& text, const QString& key, void (RootsPane::*act)()) {
        menu.addAction(text + "\t" + key, this, act)->setEnabled(any);
    };
    offer(tr("Mirror at the circle"), "M", &RootsPane::mirror_in_hand);
    offer(tr("Put onto the circle"), "O", &RootsPane::put_in_hand_on_circle);
    offer(tr("Cancel with the other sort"), "C", &RootsPane::cancel_in_hand);
    offer(tr("Duplicate"), "D", &RootsPane::duplicate_in_hand);
    offer(tr("Remove"), tr("Del"), &RootsPane::remove_in_hand);
    menu.addSeparator();
    const auto toggle = [&](const QString& text, const QString& key, bool& held) {
        QAction* action = menu.addAction(text + "\t" + key);
        action->setCheckable(true);
        action->setChecked(held);
        connect(action, &QAction::toggled, this, [&held](bool on) { held = on; });
    };
    toggle(tr("Hold the radius while dragging"), "R", holds_radius_);
    toggle(tr("Hold the angle while dragging"), "A", holds_angle_);
    toggle(tr("Keep the level at the plumb line, or 0 Hz"), "L", keeps_level_);
    menu.addSeparator();
    menu.addAction(tr("Reflect unstable poles inside") + "\tI", this,
                   [this] { say(reflect_poles_inside(session_)); });
}

void RootsPane::fill_show(QMenu& menu) {
    const auto choose = [&](const QString& text, RootsShown shown) {
        QAction* action = menu.addAction(text, this, [this, shown] { show_roots(shown); });
        action->setCheckable(true);
        action->setChecked(shown_ == shown);
    };
    choose(tr("Roots of the whole chain"), RootsShown::whole_chain);
    choose(tr("Roots of the selected stage"), RootsShown::selected_stage);
    menu.addSeparator();
    QAction* places =
        menu.addAction(tr("Where words put the pole"), this, &RootsPane::show_places_of_words);
    places->setEnabled(!session_.words_view().empty());
    places->setToolTip(tr("Magnified until the places are seen that a processor's words have for "
                          "poles; choose “as the words of” in the verdict bar first"));
    menu.setToolTipsVisible(true);
    menu.addSeparator();
    const auto toggle = [&](const QString& text, bool ReliefLook::*part) {
        QAction* action = menu.addAction(text);
        action->setCheckable(true);
        action->setChecked(look_.*part);
        connect(action, &QAction::toggled, this, [this, part](bool on) {
            look_.*part = on;
            update();
        });
    };
    toggle(tr("Relief of |H|"), &ReliefLook::shade);
    toggle(tr("Contour lines, every 6 dB"), &ReliefLook::contours);
    toggle(tr("Phase lines, every 45°"), &ReliefLook::phase_lines);
    toggle(tr("Level along the circle"), &ReliefLook::cut);
}

void RootsPane::show_places_of_words() {
    const Delivery* delivery = delivery_of(session_.study(), session_.words_view());
    const auto format = delivery != nullptr ? word_format(session_.study(), *delivery)
                                            : Expected<WordFormat>(refuse("", "no words are seen"));
    std::optional<Complex> about;
    const auto& held = session_.roots_in_hand();
    for (const PlaneRoot& root : roots()) {
        const bool is_nearer = !about || std::abs(root.value) > std::abs(*about);
        if (root.ref.place.is_pole && root.value.imag() > 0
            && (held.holds(root.ref) || (held.roots().empty() && is_nearer))) {
            about = root.value;
        }
    }
    if (!format || !about || view_.is_analog) {
        problem_ = !format ? QString::fromStdString(to_text(format.error()))
                           : tr("There is no pair of poles to look at");
        update();
        return;
    }
    problem_.clear();
    magnification_ = 1;
    shift_ = {};
    const QRect room(0, 0, width(), shares_top_ - 2);
    do {
        magnification_ *= 2;
        layout_plane();
        shift_ += QPointF(room.center()) - view_.at(*about);
        layout_plane();
    } while (magnification_ < greatest_magnification && !WordRoots::has_room(*format, view_, room));
    update();
}

void RootsPane::say(const Expected<void>& done) {
    problem_ = done ? QString() : QString::fromStdString(to_text(done.error()));
    update();
}

void RootsPane::add(bool pole, const Complex& at) {
    problem_.clear();
    add_root(session_, pole, at);
}

void RootsPane::change(const QString& name, const ChangeRoots& change) {
    say(change_roots(session_, name, session_.roots_in_hand().roots(), change));
}

void RootsPane::mirror_in_hand() {
    const StageAnalysis* stage = session_.stage_analysis();
    const std::optional<Filter> whole =
        session_.analysis() != nullptr ? std::optional(session_.analysis()->chain) : std::nullopt;
    auto before = roots();
    std::erase_if(before, [this](const PlaneRoot& root) {
        return !session_.roots_in_hand().holds(root.ref);
    });
    change(tr("Mirror roots"), [](const RootsSpec& spec, std::span<const RootPlace> places,
                                  Domain domain) { return mirrored(spec, places, domain); });
    if (problem_.isEmpty() && stage != nullptr && whole) {
        before_ = std::move(before);
        forget_.start();
        session_.glimpse().show_before(session_.channel()->id, *whole);
    }
}

void RootsPane::put_in_hand_on_circle() {
    change(tr("Put roots onto the circle"),
           [](const RootsSpec& spec, std::span<const RootPlace> places, Domain domain) {
               return put_on_circle(spec, places, domain);
           });
}

void RootsPane::cancel_in_hand() {
    change(tr("Cancel roots"), [](const RootsSpec& spec, std::span<const RootPlace> places,
                                  Domain) { return cancelled(spec, places); });
}

void RootsPane::duplicate_in_hand() {
    change(tr("Duplicate roots"), [](const RootsSpec& spec, std::span<const RootPlace> places,
                                     Domain) { return duplicated(spec, places); });
}

void RootsPane::remove_in_hand() {
    change(tr("Remove roots"), [](const RootsSpec& spec, std::span<const RootPlace> places,
                                  Domain) { return without(spec, places); });
    if (problem_.isEmpty()) {
        session_.roots_in_hand().hold({});
    }
}

const PlaneRoot* RootsPane::root_near(const std::vector<PlaneRoot>& roots,
                                      const QPointF& at) const {
    const PlaneRoot* best = nullptr;
    double least = reach;
    for (const PlaneRoot& root : roots) {
        const QPointF d = view_.at(root.value) - at;
        const double counted = std::hypot(d.x(), d.y()) - preference_for(session_, root.ref);
        if (counted < least) {
            least = counted;
            best = &root;
        }
    }
    return best;
}

} // namespace syntonon
