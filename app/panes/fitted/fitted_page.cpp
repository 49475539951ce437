// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/fitted/fitted_page.h"

#include "app/model/fitted_commands.h"
#include "app/model/fitter.h"
#include "app/model/root_commands.h"
#include "app/panes/fitted/order_plot.h"
#include "app/panes/fitted/own_target.h"
#include "app/widgets/quantity_edit.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <utility>

namespace syntonon {
namespace {

// Even ones, more closely where one more pair still matters much.
std::vector<int> orders_to_try(const FittedSpec& spec) {
    constexpr int usual = 24, beyond = 8, step_of_many = 4;
    const int most = std::min(std::max(usual, spec.order + beyond), greatest_fitted_order);
    std::vector<int> orders;
    for (int order = 2; order <= most; order += order < usual ? 2 : step_of_many) {
        orders.push_back(order);
    }
    if (std::ranges::find(orders, spec.order) == orders.end()) {
        orders.push_back(spec.order);
        std::ranges::sort(orders);
    }
    return orders;
}

// What errors by order do not depend on.
FittedSpec without_findings(FittedSpec spec) {
    spec.order = 0;
    spec.zeros.clear();
    spec.poles.clear();
    spec.gain = 1;
    spec.delay_ms = 0;
    spec.delay_samples = 0;
    spec.bound = 0;
    spec.fitted_to.clear();
    spec.fitted_aim_db.clear();
    spec.fitted_aim_deg.clear();
    spec.refits = false;
    return spec;
}

// Whose phase may be followed.
std::vector<std::string> other_channels(const Session& session) {
    std::vector<std::string> ids;
    for (const auto& channel : session.study().channels) {
        if (session.channel() != nullptr && channel->id != session.channel()->id) {
            ids.push_back(channel->id);
        }
    }
    return ids;
}

// The chosen one behind the entry that names none.
int place_among(const std::vector<std::string>& ids, const std::string& chosen) {
    const auto at = std::ranges::find(ids, chosen);
    return chosen.empty() ? 0 : at != ids.end() ? 1 + static_cast<int>(at - ids.begin()) : -1;
}

std::string chosen_of(const std::vector<std::string>& ids, int place) {
    return place > 0 ? ids[static_cast<std::size_t>(place) - 1] : std::string();
}

// What a model may be made of: the stages above, and measured impulse responses.
std::vector<std::string> curves_with_impulse(const Study& study) {
    std::vector<std::string> ids;
    for (const auto& curve : study.curves) {
        if (curve->origin && curve->origin->measured->is_impulse()) {
            ids.push_back(curve->id);
        }
    }
    return ids;
}

QString unit_of(const FittedSpec& spec) {
    return spec.match == FittedMatch::delay   ? QStringLiteral("ms")
           : spec.match == FittedMatch::phase ? QStringLiteral("°")
                                              : QStringLiteral("dB");
}

} // namespace

FittedPage::FittedPage(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), follows_(new QComboBox), axis_(new QComboBox),
      warping_(new QuantityEdit(Dimension::plain, {})), warping_caption_(new QLabel(tr("by"))),
      level_(new OwnTarget(session, OwnLine::level)),
      phase_(new OwnTarget(session, OwnLine::phase)),
      delay_(new OwnTarget(session, OwnLine::delay)),
      refits_(new QCheckBox(tr("Fit again by itself when something above changes"))),
      try_(new QPushButton(tr("Try orders"))), open_(new QPushButton(tr("Open into stages"))),
      plot_(new OrderPlot), words_(new QLabel) {
    for (const auto& name : names_of_fitted_axes()) {
        axis_->addItem(text_of(name.title));
    }
    axis_->setToolTip(tr("Errors count alike over equal distances on it"));
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(5);
    const auto add = [grid](int row, const QString& caption, QWidget* widget) {
        auto* label = new QLabel(caption);
        label->setBuddy(widget);
        widget->setAccessibleName(caption);
        grid->addWidget(label, row, 0);
        grid->addWidget(widget, row, 1);
    };
    add(0, tr("Follows"), follows_);
    add(1, tr("Even over"), axis_);
    axis_caption_ = dynamic_cast<QLabel*>(grid->itemAtPosition(1, 0)->widget());
    warping_->setAccessibleName(tr("Warping"));
    warping_->setToolTip(tr("The coefficient of the all-pass that bends the axis: 0 is linear; "
                            "0.75 is about the ear’s at 48 kHz"));
    grid->addWidget(warping_caption_, 1, 2);
    grid->addWidget(warping_, 1, 3);
    grid->setColumnStretch(1, 1);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(try_);
    buttons->addWidget(words_, 1);
    buttons->addWidget(open_);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 6, 16, 6);
    column->setSpacing(6);
    column->addLayout(grid);
    for (OwnTarget* own : {level_, phase_, delay_}) {
        column->addWidget(own);
        connect(own, &OwnTarget::problem_found, this, &FittedPage::say);
    }
    column->addWidget(refits_);
    column->addLayout(buttons);
    column->addWidget(plot_, 1);
    words_->setFont(text_font(11));
    words_->setWordWrap(true);
    constexpr int showing_ms = 80;
    showing_.setInterval(showing_ms);
    connect(&showing_, &QTimer::timeout, this, &FittedPage::show_orders);
    connect_choices();
    connect(&session_, &Session::analysis_changed, this, &FittedPage::refresh);
    connect(&session_, &Session::selection_changed, this, &FittedPage::refresh);
    refresh();
}

bool FittedPage::is_there(const Session& session) {
    return selected_fitted(session) != nullptr;
}

void FittedPage::connect_choices() {
    connect(follows_, &QComboBox::activated, this, &FittedPage::follow);
    connect(axis_, &QComboBox::activated, this, [this](int index) {
        edit_fitted(session_, tr("Let errors of %1 count elsewhere"), [&](FittedSpec& spec) {
            spec.axis = names_of_fitted_axes()[static_cast<std::size_t>(index)].value;
        });
    });
    connect(warping_, &QuantityEdit::problem_found, this, &FittedPage::say);
    connect(warping_, &QuantityEdit::value_entered, this, [this](std::optional<double> value) {
        FittedSpec tried = *selected_fitted(session_);
        tried.warping = value.value_or(tried.warping);
        if (const auto fine = check_fields(tried); !fine) {
            refresh();
            say(QString::fromStdString(to_text(fine.error())));
            return;
        }
        edit_fitted(session_, tr("Warp the axis of %1"),
                    [&](FittedSpec& spec) { spec.warping = tried.warping; });
    });
    connect(refits_, &QCheckBox::clicked, this, [this](bool on) {
        edit_fitted(session_, on ? tr("Fit %1 again by itself") : tr("Fit %1 again by hand only"),
                    [on](FittedSpec& spec) { spec.refits = on; });
    });
    connect(try_, &QPushButton::clicked, this, &FittedPage::press_try);
    connect(open_, &QPushButton::clicked, this, [this] {
        const auto words = open_stage(session_, session_.selection().stage, OpenedAs::roots);
        say(words ? *words : QString::fromStdString(to_text(words.error())));
    });
    connect(plot_, &OrderPlot::pointed, this, &FittedPage::show_orders);
    connect(plot_, &OrderPlot::order_chosen, this, [this](int order) {
        edit_fitted(session_, tr("Choose another order for %1"),
                    [order](FittedSpec& spec) { spec.order = order; });
        if (const Stage* stage = session_.stage()) {
            static_cast<void>(session_.fitter().begin(stage->id));
        }
    });
}

// The lines that a kind of match may state on its own.
std::vector<OwnLine> FittedPage::own_lines(const FittedSpec& spec) {
    switch (spec.match) {
    case FittedMatch::magnitude:
        return {OwnLine::level};
    case FittedMatch::complex:
        return {OwnLine::level, OwnLine::phase};
    case FittedMatch::phase:
        return {OwnLine::phase};
    case FittedMatch::delay:
        return {OwnLine::delay};
    case FittedMatch::impulse:
        break;
    }
    return {};
}

void FittedPage::follow(int index) {
    const auto curves = curves_with_impulse(session_.study());
    const auto channels = other_channels(session_);
    edit_fitted(session_, tr("Fit %1 to something else"), [&](FittedSpec& spec) {
        if (spec.match == FittedMatch::impulse) {
            spec.curve = chosen_of(curves, index);
            return;
        }
        spec.channel = chosen_of(channels, index - 1); // of a phase, behind the two that all have
        for (const OwnLine line : own_lines(spec)) {
            if (index == 1) {
                state_own(spec, line);
            } else {
                leave_own(spec, line);
            }
        }
    });
}

FittedPage::Choices FittedPage::choices(const FittedSpec& spec) const {
    const Study& study = session_.study();
    if (spec.match == FittedMatch::impulse) {
        Choices made{{tr("the stages above, and stands for them")}, 0};
        const auto curves = curves_with_impulse(study);
        for (const std::string& id : curves) {
            made.names.append(text_of(curve_of(study, id)->name));
        }
        made.chosen = place_among(curves, spec.curve);
        return made;
    }
    FittedSpec asked = spec;
    const auto lines = own_lines(spec);
    const bool has_own =
        std::ranges::any_of(lines, [&](OwnLine line) { return points_of(asked, line) != nullptr; });
    const bool is_delay = spec.match == FittedMatch::delay;
    Choices made{{is_delay ? tr("the goal’s delay, or any that is the same everywhere")
                           : tr("the channel’s goal"),
                  is_delay ? tr("a delay of its own") : tr("a target of its own")},
                 has_own ? 1 : 0};
    if (spec.match == FittedMatch::phase) {
        const auto channels = other_channels(session_);
        for (const std::string& id : channels) {
            made.names.append(tr("the phase of %1").arg(text_of(channel_of(study, id)->name)));
        }
        const int place = place_among(channels, spec.channel);
        made.chosen = place == 0 ? made.chosen : place < 0 ? -1 : place + 1;
    }
    return made;
}

void FittedPage::show_choices(const FittedSpec& spec) {
    const Choices made = choices(spec);
    follows_->clear();
    follows_->addItems(made.names);
    follows_->setCurrentIndex(made.chosen);
    axis_->setCurrentIndex(static_cast<int>(spec.axis));
    axis_->setVisible(spec.match != FittedMatch::impulse);
    axis_caption_->setVisible(spec.match != FittedMatch::impulse);
    warping_->show_value(spec.warping);
    const bool is_warped = spec.axis == FittedAxis::warped && spec.match != FittedMatch::impulse;
    warping_->setVisible(is_warped);
    warping_caption_->setVisible(is_warped);
}

void FittedPage::refresh() {
    const FittedSpec* spec = selected_fitted(session_);
    const Channel* channel = session_.channel();
    if (spec == nullptr || channel == nullptr) {
        return;
    }
    show_choices(*spec);
    refits_->setChecked(spec->refits);
    open_->setEnabled(is_fitted(*spec));
    FittedSpec stated = *spec;
    const auto lines = own_lines(*spec);
    for (const auto& [line, own] :
         {std::pair{OwnLine::level, level_}, {OwnLine::phase, phase_}, {OwnLine::delay, delay_}}) {
        own->setVisible(std::ranges::find(lines, line) != lines.end() && spec->channel.empty()
                        && points_of(stated, line) != nullptr);
        own->show_spec(*spec);
    }
    const bool holds = tried_ && tried_->channel == channel->id
                       && tried_->stage == session_.stage()->id
                       && tried_->spec == without_findings(*spec);
    if (!holds) {
        work_.stop();
        showing_.stop();
        tried_.reset();
    }
    say({});
    show_orders();
}

void FittedPage::press_try() {
    if (work_.is_busy()) {
        work_.stop();
        show_orders();
        return;
    }
    const FittedSpec* spec = selected_fitted(session_);
    const Channel* channel = session_.channel();
    if (spec == nullptr || channel == nullptr) {
        return;
    }
    const std::string stage = session_.stage()->id;
    auto brief = session_.briefs().fit_brief(session_.study(), *channel, stage);
    if (!brief) {
        say(QString::fromStdString(to_text(brief.error())));
        return;
    }
    tried_ = Tried{channel->id, stage, without_findings(*spec), {}};
    so_far_ = std::make_shared<SoFar<std::vector<OrderError>>>();
    work_.begin(
        [spec = *spec, brief = *std::move(brief), so_far = so_far_](const Watch& watch) {
            std::vector<OrderError> errors;
            return errors_by_order(spec, brief, orders_to_try(spec), watch,
                                   [&](const OrderError& error) {
                                       errors.push_back(error);
                                       so_far->put(errors);
                                   });
        },
        [this](const Expected<std::vector<OrderError>>& errors) {
            show_orders();
            if (!errors) {
                say(QString::fromStdString(to_text(errors.error())));
            }
        });
    showing_.start();
    show_orders();
}

void FittedPage::show_orders() {
    const FittedSpec* spec = selected_fitted(session_);
    if (spec == nullptr) {
        return;
    }
    if (tried_ && so_far_ != nullptr) {
        if (auto newest = so_far_->look()) {
            tried_->errors = *std::move(newest);
        }
    }
    const bool is_trying = work_.is_busy();
    if (!is_trying) {
        showing_.stop();
    }
    try_->setText(is_trying ? tr("Stop") : tr("Try orders"));
    plot_->show_errors(tried_ ? tried_->errors : std::vector<OrderError>(), spec->order,
                       unit_of(*spec));
    if (tried_) {
        words_->setText(plot_->words());
    }
}

void FittedPage::say(const QString& problem) {
    words_->setText(problem);
}

LimitTable* FittedPage::points(OwnLine line) const {
    return (line == OwnLine::level ? level_ : line == OwnLine::phase ? phase_ : delay_)->table();
}

QString FittedPage::words() const {
    return words_->text();
}

} // namespace syntonon
