// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/fir_trim.h"

#include "app/model/fir_commands.h"
#include "app/model/sample_commands.h"
#include "app/model/selected_fir.h"
#include "app/model/stage_commands.h"
#include "app/panes/trim/trim_panels.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/titled_box.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"
#include "core/filter/form.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFontMetrics>
#include <QHBoxLayout>
#include <QLabel>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

// The ways to state what is wanted, as far as the method has them.
enum class StatedBy { edges, bands, goal, shortest, tolerances, samples };
struct Way {
    StatedBy by;
    const char* title;
};
constexpr std::array all_ways =
    std::to_array<Way>({{StatedBy::edges, QT_TR_NOOP("edges")},
                        {StatedBy::bands, QT_TR_NOOP("bands")},
                        {StatedBy::goal, QT_TR_NOOP("the goal")},
                        {StatedBy::shortest, QT_TR_NOOP("the corridor")},
                        {StatedBy::tolerances, QT_TR_NOOP("tolerances")},
                        {StatedBy::samples, QT_TR_NOOP("samples")}});

std::vector<StatedBy> ways_of(const FirSpec& spec) {
    using enum StatedBy;
    return std::holds_alternative<WindowedFir>(spec.method)
               ? std::vector{edges, bands, goal, tolerances}
           : std::holds_alternative<EquirippleFir>(spec.method)
               ? std::vector{bands, goal, shortest, tolerances}
           : std::holds_alternative<LeastSquaresFir>(spec.method) ? std::vector{bands, goal}
           : std::holds_alternative<SampledFir>(spec.method) ? std::vector{bands, goal, samples}
                                                             : std::vector<StatedBy>{};
}

StatedBy way_of(const FirSpec& spec) {
    const auto* sampled = std::get_if<SampledFir>(&spec.method);
    return tolerances_in_force(spec) != nullptr              ? StatedBy::tolerances
           : length_follows(spec)                            ? StatedBy::shortest
           : sampled != nullptr && !sampled->samples.empty() ? StatedBy::samples
           : !takes_bands(spec)                              ? StatedBy::edges
           : spec.wish.use_goal                              ? StatedBy::goal
                                                             : StatedBy::bands;
}

void state_by(FirSpec& spec, StatedBy by) {
    spec.wish.use_goal = by == StatedBy::goal || by == StatedBy::shortest;
    if (auto* windowed = std::get_if<WindowedFir>(&spec.method)) {
        windowed->by = by == StatedBy::edges        ? WindowedFir::By::edges
                       : by == StatedBy::tolerances ? WindowedFir::By::tolerances
                                                    : WindowedFir::By::bands;
    }
    if (auto* equiripple = std::get_if<EquirippleFir>(&spec.method)) {
        equiripple->by_tolerances = by == StatedBy::tolerances || by == StatedBy::shortest;
        if (by == StatedBy::shortest) {
            equiripple->form = EquirippleFir::Form::linear;
            equiripple->symmetry = FirSymmetry::even;
        }
    }
    if (auto* sampled = std::get_if<SampledFir>(&spec.method)) {
        sampled->samples.clear(); // those of their own are taken from the equal steps before
    }
}

template <class Method, auto member>
auto* part_of(FirSpec& spec) {
    auto* method = std::get_if<Method>(&spec.method);
    return method != nullptr ? &(method->*member) : nullptr;
}

ClassicalBand* band_in(FirSpec& spec) {
    auto* windowed = std::get_if<WindowedFir>(&spec.method);
    auto* equiripple = std::get_if<EquirippleFir>(&spec.method);
    return windowed != nullptr && windowed->by != WindowedFir::By::bands   ? &windowed->band
           : equiripple != nullptr && tolerances_in_force(spec) != nullptr ? &equiripple->band
                                                                           : nullptr;
}
WindowShape* window_in(FirSpec& spec) {
    auto* windowed = std::get_if<WindowedFir>(&spec.method);
    auto* chain = std::get_if<FromChainFir>(&spec.method);
    return windowed != nullptr && windowed->by != WindowedFir::By::tolerances
               ? &windowed->window.shape
           : chain != nullptr && spec.phase == FirPhase::as_made ? &chain->window.shape
                                                                 : nullptr;
}
FirSymmetry* symmetry_in(FirSpec& spec) {
    auto* squares = std::get_if<LeastSquaresFir>(&spec.method);
    auto* equiripple = std::get_if<EquirippleFir>(&spec.method);
    return squares != nullptr && !squares->delay_samples ? &squares->symmetry
           : equiripple != nullptr && !equiripple->by_tolerances
                   && equiripple->form == EquirippleFir::Form::linear
               ? &equiripple->symmetry
               : nullptr;
}
EquirippleFir::Form* form_in(FirSpec& spec) {
    auto* equiripple = std::get_if<EquirippleFir>(&spec.method);
    return equiripple != nullptr && !equiripple->by_tolerances ? &equiripple->form : nullptr;
}
SampledFir::Between* between_in(FirSpec& spec) {
    auto* sampled = std::get_if<SampledFir>(&spec.method);
    return sampled != nullptr && sampled->samples.empty() ? &sampled->between : nullptr;
}
FirPhase* phase_in(FirSpec& spec) {
    return &spec.phase;
}

std::vector<TrimField> fir_trim_fields() {
    auto fields = trim_fields<FirSpec>();
    for (TrimField& field : fields) {
        field.format.places = field.format.dimension == Dimension::frequency ? 1
                              : field.format.dimension == Dimension::level   ? 2
                                                                             : field.format.places;
    }
    return fields;
}

// Tolerances of two edges have to stand in one row of a window of 1280.
int width_of(const NumberField<FirSpec>& field) {
    constexpr int of_edge = 86, of_level = 78, of_samples = 110, of_number = 76;
    const std::string_view unit = field.unit;
    const int usual = field.dimension == Dimension::frequency ? of_edge
                      : field.dimension == Dimension::level   ? of_level
                      : unit == "samples" || unit == "taps"   ? of_samples
                                                              : of_number;
    return std::max(usual, QFontMetrics(text_font(11)).horizontalAdvance(field.caption) + 2);
}

// A windowed filter's edge is where its gain is half, not where its power is: both are told.
QString edge_words(const StageAnalysis& analysis, const FirSpec& spec) {
    constexpr int soon_told = 16384; // taps
    const auto* windowed = std::get_if<WindowedFir>(&spec.method);
    if (windowed == nullptr || windowed->by != WindowedFir::By::edges || spec.length > soon_told
        || !analysis.working) {
        return {};
    }
    QStringList half_power;
    QString level;
    for (const WorkingStep& step : analysis.working().steps) {
        for (const WorkingNumber& number : step.numbers) {
            if (number.meaning == "half power") {
                half_power << QString::fromStdString(frequency_text(number.value));
            } else if (number.meaning == "level there" && level.isEmpty()) {
                level = QString::fromStdString(signed_text(number.value, 1));
            }
        }
    }
    return QObject::tr(" · %1 dB at the edge, −3 dB at %2").arg(level, half_power.join(", "));
}

// A new shape begins with its usual parameter.
void give_usual_parameter(FirSpec& spec, WindowShape before) {
    auto* windowed = std::get_if<WindowedFir>(&spec.method);
    if (windowed == nullptr || windowed->window.shape == before) {
        return;
    }
    windowed->window.parameter = parameter_of(windowed->window.shape).usual;
    if (windowed->window.shape == WindowShape::drawn && windowed->window.points.empty()) {
        windowed->window.points = {{0, 0}, {0.5, 1}, {1, 0}};
    }
}

} // namespace

FirTrim::FirTrim(Session& session, QWidget* parent)
    : FieldsTrim(session, fir_trim_fields(), parent), words_(new QLabel(this)),
      keeps_before_(new QCheckBox(tr("Keep the one before"), this)) {
    row()->setSpacing(10);
    method_ = add_box(tr("Method"), 168);
    for (const auto& name : names_of_methods()) {
        method_->addItem(text_of(name.title));
    }
    connect(method_, &QComboBox::activated, this, &FirTrim::take_method);
    stated_by_ = add_box(tr("Stated by"), 120);
    connect(stated_by_, &QComboBox::activated, this, &FirTrim::take_stated_by);
    band_ = add_choice(tr("Band"), 122, names_of_bands(), band_in);
    for (int i = 0; i < band_->count(); ++i) { // as the classical filters' are written
        band_->setItemText(i, capitalised(band_->itemText(i)));
    }
    window_ = add_choice(tr("Window"), 144, names_of_windows(), window_in);
    add_choice(tr("Form"), 150, names_of_forms(), form_in);
    add_choice(tr("Symmetry"), 84, names_of_symmetries(), symmetry_in);
    add_choice(tr("Interpolation"), 140, names_of_fir_interpolations(),
               part_of<FractionalDelayFir, &FractionalDelayFir::by>);
    add_choice(tr("Between bands"), 130, names_of_betweens(), between_in);
    phase_ = add_choice(tr("Phase"), 108, names_of_phases(), phase_in);
    for (const auto& field : fields_of(FirSpec())) {
        this->field(field.key)->setFixedWidth(width_of(field));
    }
    words_->setFont(text_font(11));
    words_->setForegroundRole(QPalette::PlaceholderText);
    keeps_before_->setFont(text_font(11));
    keeps_before_->setToolTip(tr("Each change of the method, the window, the length or another "
                                 "number leaves the chain as it was as a take"));
    connect(keeps_before_, &QCheckBox::clicked, this,
            [this](bool on) { this->session().keeping().is_on = on; });
}

void FirTrim::edit(const QString& name, const QString& gesture,
                   const std::function<void(StageSpec&)>& change) {
    if (const Stage* stage = session().stage()) {
        edit_fir(session(), name.arg(spoken_name(*stage)), change, gesture);
    }
}

QString FirTrim::words() const {
    return words_->text();
}

QComboBox* FirTrim::add_box(const QString& caption, int width) {
    auto* box = new QComboBox;
    box->setAccessibleName(caption);
    const int place = method_ == nullptr ? 0 : static_cast<int>(show_.size()) + 1;
    auto* titled = new TitledBox(caption, box, width);
    row()->insertWidget(place, titled);
    if (method_ != nullptr) {
        show_.emplace_back([](const FirSpec&) {});
    }
    return box;
}

template <class Enum>
QComboBox* FirTrim::add_choice(const QString& caption, int width,
                               std::span<const NamedValue<Enum>> names, Enum* (*value)(FirSpec&)) {
    QComboBox* box = add_box(caption, width);
    for (const NamedValue<Enum>& name : names) {
        box->addItem(text_of(name.title));
    }
    show_.back() = [names, box, value](FirSpec spec) {
        const Enum* now = value(spec);
        box->parentWidget()->setVisible(now != nullptr);
        if (now != nullptr) {
            const auto at = std::ranges::find(names, *now, &NamedValue<Enum>::value);
            box->setCurrentIndex(static_cast<int>(at - names.begin()));
        }
    };
    connect(box, &QComboBox::activated, this, [this, names, value, caption](int index) {
        change(tr("Change the %1 of %2").arg(caption.toLower(), QStringLiteral("%1")),
               [&](FirSpec& spec) {
                   const WindowShape* window = window_in(spec);
                   const WindowShape before = window != nullptr ? *window : WindowShape::kaiser;
                   if (Enum* now = value(spec)) {
                       *now = names[static_cast<std::size_t>(index)].value;
                       give_usual_parameter(spec, before);
                   }
               });
    });
    return box;
}

void FirTrim::change(const QString& name, const std::function<void(FirSpec&)>& change) {
    edit(name, {}, [&](StageSpec& spec) { change(std::get<FirSpec>(spec.edit())); });
}

void FirTrim::take_method(int index) {
    change(tr("Change the method of %1"), [index](FirSpec& spec) {
        if (spec.method.index() != static_cast<std::size_t>(index)) {
            spec = with_method(std::move(spec), static_cast<std::size_t>(index));
        }
    });
}

void FirTrim::take_stated_by(int index) {
    const FirSpec* now = selected_fir(session());
    const QString name = tr("State %1 by something else");
    if (now != nullptr && ways_of(*now)[static_cast<std::size_t>(index)] == StatedBy::samples) {
        edit_samples(session(), name.arg(spoken_name(*session().stage())), [](auto&) {});
        return;
    }
    change(name, [index](FirSpec& spec) {
        state_by(spec, ways_of(spec)[static_cast<std::size_t>(index)]);
    });
}

void FirTrim::show_stage(const Stage& stage) {
    FieldsTrim::show_stage(stage);
    const auto& spec = std::get<FirSpec>(*stage.spec);
    method_->setCurrentIndex(static_cast<int>(spec.method.index()));
    const auto ways = ways_of(spec);
    stated_by_->parentWidget()->setVisible(!ways.empty());
    stated_by_->clear();
    for (const StatedBy way : ways) {
        stated_by_->addItem(tr(std::ranges::find(all_ways, way, &Way::by)->title));
    }
    stated_by_->setCurrentIndex(
        static_cast<int>(std::ranges::find(ways, way_of(spec)) - ways.begin()));
    for (const auto& show : show_) {
        show(spec);
    }
    keeps_before_->setChecked(session().keeping().is_on);
    show_words(spec);
}

// Length, order and delay as they came out.
void FirTrim::show_words(const FirSpec& spec) {
    const StageAnalysis* analysis = session().stage_analysis();
    if (analysis == nullptr || !analysis->filter) {
        words_->setText(analysis == nullptr
                            ? QString()
                            : QString::fromStdString(analysis->filter.error().reason + "; "
                                                     + analysis->filter.error().way_out));
        return;
    }
    const auto* taps = std::get_if<Taps>(&analysis->filter->form());
    if (taps == nullptr) {
        words_->clear();
        return;
    }
    const double count = static_cast<double>(taps->values().size());
    const double delay = (count - 1) / 2, rate = session().study().sample_rate_hz;
    QString words = tr("%1 taps, order %2").arg(count).arg(count - 1);
    if (taps->symmetry() != 0) {
        words += tr(" · delay %1 samples, %2 ms, at every frequency")
                     .arg(QString::fromStdString(shortest_text(delay)),
                          shown_number(1e3 * delay / rate, 4));
    } else {
        const auto greatest =
            std::ranges::max_element(taps->values(), {}, [](double tap) { return std::abs(tap); });
        const auto place = static_cast<double>(greatest - taps->values().begin());
        words += tr(" · greatest tap at %1 samples, %2 ms")
                     .arg(QString::fromStdString(shortest_text(place)),
                          shown_number(1e3 * place / rate, 4));
    }
    words += edge_words(*analysis, spec);
    if (!analysis->note.empty()) {
        words += QStringLiteral(" · ") + QString::fromStdString(analysis->note);
    }
    words_->setText(words);
}

void FirTrim::resizeEvent(QResizeEvent* event) {
    FieldsTrim::resizeEvent(event);
    constexpr int box_width = 150, high = 18;
    words_->setGeometry(0, under_fields, width() - box_width, high);
    keeps_before_->setGeometry(width() - box_width, under_fields, box_width, high);
}

TrimPanel* make_panel(const FirSpec&, Session& session) {
    return new FirTrim(session);
}

void offer(const FirSpec&, std::vector<NewStage>& offers) {
    const QString group = QObject::tr("FIR");
    for (const auto& name : names_of_methods()) {
        FirSpec spec;
        spec = with_method(spec, name.value);
        offers.push_back({text_of(name.title), spec, group});
    }
}

} // namespace syntonon
