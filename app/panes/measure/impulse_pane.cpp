// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/measure/impulse_pane.h"

#include "app/model/measure_commands.h"
#include "app/model/measured_in_view.h"
#include "app/panes/measure/impulse_plot.h"
#include "app/widgets/menu_button.h"
#include "app/widgets/quantity_edit.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"

#include <QActionGroup>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QMenu>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <utility>

namespace syntonon {
namespace {

constexpr std::array gate_times = {&Gate::from_s, &Gate::full_from_s, &Gate::full_to_s,
                                   &Gate::to_s};

QString name_of(ImpulseForm form) {
    return form == ImpulseForm::impulse ? QObject::tr("Impulse response")
           : form == ImpulseForm::step  ? QObject::tr("Step response")
                                        : QObject::tr("Level of it, dB");
}

QuantityEdit* narrow_edit(QuantityEdit* edit, const QString& name, const QString& tip) {
    constexpr int wide = 53;
    edit->setMinimumWidth(0);
    edit->setFont(text_font(11));
    edit->setFixedWidth(wide);
    edit->setAccessibleName(name);
    edit->setToolTip(tip);
    return edit;
}

} // namespace

bool ImpulsePane::Seen::operator==(const Seen& other) const {
    return curve == other.curve && gates == other.gates
           && std::ranges::equal(curves, other.curves,
                                 [](const auto& a, const auto& b) { return a.same_as(b); });
}

ImpulsePane::ImpulsePane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), plot_(new ImpulsePlot),
      gate_(menu_button(tr("Gate"), tr("What of the impulse response counts"))),
      form_(menu_button(name_of(ImpulseForm::impulse), tr("What is drawn"))), title_(new QLabel),
      said_(new QLabel), cycles_(new QuantityEdit(Dimension::plain, {}, tr("any"))),
      arrival_(new QuantityEdit(Dimension::time, tr("ms"), tr("found"))) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 2, 0, 6);
    column->setSpacing(2);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(50, 0, 12, 0);
    head->addWidget(form_);
    head->addWidget(title_, 1);
    head->addWidget(gate_);
    column->addLayout(head);
    column->addWidget(plot_, 1);
    auto* foot = new QHBoxLayout;
    foot->setContentsMargins(16, 0, 12, 0);
    foot->setSpacing(3);
    const auto word = [&](const QString& text) {
        auto* label = new QLabel(text);
        label->setFont(text_font(11));
        foot->addWidget(label);
    };
    word(tr("opens"));
    const QString names[] = {tr("Gate opens from"), tr("Gate is open from"), tr("Gate is open to"),
                             tr("Gate has closed at")};
    for (std::size_t i = 0; i < times_.size(); ++i) {
        times_[i] = narrow_edit(new QuantityEdit(Dimension::time, tr("ms")), names[i],
                                names[i] + tr(", from the arrival"));
        times_[i]->set_scale(1e-3);
        if (i == 2) {
            word(tr("closes"));
        }
        foot->addWidget(times_[i]);
    }
    word(tr("cycles"));
    foot->addWidget(narrow_edit(cycles_, tr("Cycles"),
                                tr("So many periods of each frequency to each side: long below, "
                                   "short above. Empty: as long for all")));
    cycles_->setFixedWidth(36);
    foot->addStretch(1);
    arrival_->set_scale(1e-3);
    word(tr("arrival"));
    foot->addWidget(
        narrow_edit(arrival_, tr("Arrival"),
                    tr("Time 0 of the gate and of the phase. Empty: where the response is "
                       "greatest")));
    arrival_->setFixedWidth(70);
    column->addLayout(foot);
    auto* line = new QHBoxLayout;
    line->setContentsMargins(16, 0, 12, 0);
    said_->setFont(text_font(11));
    said_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    said_->setWordWrap(true);
    line->addWidget(said_, 1);
    column->addLayout(line);
    follow();
}

void ImpulsePane::follow() {
    auto* forms = new QActionGroup(form_->menu());
    for (const ImpulseForm form : {ImpulseForm::impulse, ImpulseForm::step, ImpulseForm::level}) {
        QAction* action = form_->menu()->addAction(name_of(form));
        action->setCheckable(true);
        action->setChecked(form == ImpulseForm::impulse);
        forms->addAction(action);
        connect(action, &QAction::triggered, this, [this, form] {
            plot_->show_form(form);
            form_->setText(name_of(form));
        });
    }
    connect(gate_->menu(), &QMenu::aboutToShow, this, &ImpulsePane::fill_gate_menu);
    connect(plot_, &ImpulsePlot::gate_dragged, this, [this](const Gate& gate) {
        gesture_ = gesture_.isEmpty() ? session_.new_gesture() : gesture_;
        const Curve* chosen = curve();
        if (chosen != nullptr && chosen->origin) {
            dragged_ = chosen->origin->gate;
            take(drag_gate(session_, dragged_, gate, gesture_, looked_at(*chosen)));
        }
    });
    connect(plot_, &ImpulsePlot::drag_ended, this, [this] {
        const QString gesture = std::exchange(gesture_, {});
        if (!gesture.isEmpty()) {
            take(end_gate_drag(session_, dragged_, gesture));
        }
    });
    follow_edits();
    connect(&session_, &Session::study_changed, this, &ImpulsePane::refresh);
    connect(&session_, &Session::selection_changed, this, &ImpulsePane::refresh);
    connect(&session_.curve_in_hand(), &CurveInHand::changed, this, &ImpulsePane::refresh);
    connect(&theme_notifier(), &ThemeNotifier::changed, this, [this] {
        seen_.reset();
        refresh();
    });
}

void ImpulsePane::follow_edits() {
    // Nothing happens without a gate.
    const auto change = [this](auto how) {
        const Curve* chosen = curve();
        const NamedGate* gate = chosen != nullptr && chosen->origin
                                    ? gate_of(session_.study(), chosen->origin->gate)
                                    : nullptr;
        if (gate != nullptr) {
            Gate changed = gate->gate;
            how(changed);
            take_gate(changed);
        }
    };
    for (std::size_t i = 0; i < times_.size(); ++i) {
        connect(
            times_[i], &QuantityEdit::value_entered, this, [change, i](std::optional<double> s) {
                change([&](Gate& gate) { gate.*gate_times[i] = s.value_or(gate.*gate_times[i]); });
            });
    }
    connect(cycles_, &QuantityEdit::value_entered, this, [change](std::optional<double> cycles) {
        change([&](Gate& gate) { gate.cycles = cycles; });
    });
    connect(arrival_, &QuantityEdit::value_entered, this, [this](std::optional<double> s) {
        if (const Curve* chosen = curve()) {
            take(set_middle(session_, chosen->id, s));
        }
    });
}

void ImpulsePane::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void ImpulsePane::refresh() {
    if (isVisible()) {
        fill();
    }
}

const Curve* ImpulsePane::curve() const {
    return measured_in_view(session_);
}

void ImpulsePane::fill() {
    const Curve* chosen = curve();
    const Seen now{session_.study().curves, session_.study().gates,
                   chosen != nullptr ? chosen->id : ""};
    if (now == seen_) {
        return;
    }
    seen_ = now;
    const bool there = impulse_of(chosen).has_value();
    const NamedGate* gate = there ? gate_of(session_.study(), chosen->origin->gate) : nullptr;
    const QString otherwise =
        chosen == nullptr ? tr("No position is chosen")
        : chosen->origin && chosen->origin->measured->is_missing()
            ? tr("%1 lies in a file that is missing: put it back and open the study again, or "
                 "import "
                 "it anew")
                  .arg(QString::fromStdString(chosen->name))
            : tr("%1 came as a response: there is no impulse response to gate")
                  .arg(QString::fromStdString(chosen->name));
    title_->setText(chosen != nullptr ? QString::fromStdString(chosen->name) : QString());
    plot_->show_impulse(there ? &chosen->origin->measured : nullptr, there ? chosen->delay_s : 0,
                        otherwise);
    plot_->show_gate(gate != nullptr ? std::optional(gate->gate) : std::nullopt);
    gate_->setEnabled(there);
    gate_->setText(
        tr("Gate: %1").arg(gate != nullptr ? QString::fromStdString(gate->name) : tr("all of it")));
    show_times(gate, there ? chosen : nullptr);
    problem_.reset();
    say(there ? chosen : nullptr, gate);
}

void ImpulsePane::show_times(const NamedGate* gate, const Curve* chosen) {
    for (std::size_t i = 0; i < times_.size(); ++i) {
        times_[i]->setEnabled(gate != nullptr);
        times_[i]->show_value(gate != nullptr ? std::optional(gate->gate.*gate_times[i])
                                              : std::nullopt);
    }
    cycles_->setEnabled(gate != nullptr);
    cycles_->show_value(gate != nullptr ? gate->gate.cycles : std::nullopt);
    arrival_->setEnabled(chosen != nullptr);
    arrival_->show_value(chosen != nullptr ? std::optional(chosen->delay_s) : std::nullopt);
}

void ImpulsePane::say(const Curve* chosen, const NamedGate* gate) {
    QPalette colours = palette();
    colours.setColor(QPalette::WindowText, problem_ ? theme().not_met : theme().soft);
    said_->setPalette(colours);
    if (problem_) {
        said_->setText(QStringLiteral("◇ ")
                       + QString::fromStdString(problem_->reason + ": " + problem_->way_out));
        return;
    }
    if (chosen == nullptr) {
        said_->clear();
        return;
    }
    const ImpulseResponse& impulse = chosen->origin->measured->impulse;
    const QString length =
        tr("%1 ms at %2")
            .arg(fixed_number(
                     1e3 * static_cast<double>(impulse.samples.size()) / impulse.sample_rate_hz, 0),
                 QString::fromStdString(frequency_text(impulse.sample_rate_hz)));
    QString less;
    const QString arrival =
        chosen->origin->middle_s ? tr("arrival set by hand") : tr("arrival found");
    if (const Curve* microphone = microphone_of(session_.study(), chosen->origin->microphone)) {
        less = tr(" · less %1").arg(QString::fromStdString(microphone->name));
    }
    said_->setToolTip(length + QStringLiteral(", ") + arrival);
    if (gate == nullptr) {
        said_->setText(tr("All of it counts · %1").arg(length) + less);
        return;
    }
    const auto users = std::ranges::count_if(session_.study().curves, [&](const auto& each) {
        return each->origin && each->origin->gate == gate->id;
    });
    said_->setText(tr("Nothing below %1 can be told from it · of %2")
                       .arg(QString::fromStdString(frequency_text(least_told_hz(gate->gate))),
                            counted(users, "curve", "curves"))
                   + less);
}

QString ImpulsePane::said() const {
    return said_->text();
}

void ImpulsePane::take(const Expected<void>& done) {
    if (done) {
        refresh();
        return;
    }
    problem_ = done.error();
    const Curve* chosen = curve();
    const NamedGate* gate = chosen != nullptr && chosen->origin
                                ? gate_of(session_.study(), chosen->origin->gate)
                                : nullptr;
    show_times(gate, chosen); // what was typed and not taken must not stay
    say(chosen, gate);
}

void ImpulsePane::take_gate(const Gate& gate) {
    if (const Curve* chosen = curve(); chosen != nullptr && chosen->origin) {
        take(change_gate(session_, chosen->origin->gate, gate, gesture_));
    }
}

// The channel's positions, and the one in hand.
std::vector<std::string> ImpulsePane::looked_at(const Curve& chosen) const {
    const Channel* channel = session_.channel();
    auto curves = channel != nullptr ? positions_of(*channel) : std::vector<std::string>();
    curves.push_back(chosen.id);
    return curves;
}

// Of the whole set: what is gated differently can hardly be compared.
std::vector<std::string> ImpulsePane::curves_for_gate() const {
    const Curve* chosen = curve();
    const Channel* channel = session_.channel();
    if (chosen == nullptr) {
        return {};
    }
    const auto set = channel != nullptr ? positions_of(*channel) : std::vector<std::string>();
    return std::ranges::find(set, chosen->id) != set.end() ? set : std::vector{chosen->id};
}

void ImpulsePane::fill_gate_menu() {
    QMenu& menu = *gate_->menu();
    menu.clear();
    const Curve* chosen = curve();
    if (chosen == nullptr || !chosen->origin) {
        return;
    }
    const std::string now = chosen->origin->gate;
    const auto offer = [&](const QString& text, const std::string& gate) {
        QAction* action = menu.addAction(text);
        action->setCheckable(true);
        action->setChecked(gate == now);
        connect(action, &QAction::triggered, this,
                [this, gate] { take(choose_gate(session_, curves_for_gate(), gate)); });
    };
    menu.addSection(curves_for_gate().size() > 1 ? tr("Of all positions of the channel")
                                                 : tr("Of this curve"));
    offer(tr("all of it"), "");
    for (const NamedGate& gate : session_.study().gates) {
        offer(QString::fromStdString(gate.name), gate.id);
    }
    menu.addSeparator();
    connect(menu.addAction(now.empty() ? tr("New gate") : tr("New gate like it")),
            &QAction::triggered, this, [this, now] {
                const auto added = add_gate(session_, now, curves_for_gate());
                take(added ? Expected<void>() : tl::unexpected(added.error()));
            });
    if (now.empty()) {
        return;
    }
    connect(menu.addAction(tr("Rename gate…")), &QAction::triggered, this, [this, now] {
        bool ok = false;
        const NamedGate* gate = gate_of(session_.study(), now);
        const QString name =
            QInputDialog::getText(this, tr("Rename gate"), tr("Name"), QLineEdit::Normal,
                                  QString::fromStdString(gate->name), &ok);
        if (ok) {
            rename_gate(session_, now, name);
        }
    });
    connect(menu.addAction(tr("Remove gate")), &QAction::triggered, this,
            [this, now] { take(remove_gate(session_, now)); });
}

} // namespace syntonon
