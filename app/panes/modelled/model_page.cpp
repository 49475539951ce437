// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/modelled/model_page.h"

#include "app/widgets/quantity_edit.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/study/kinds.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <algorithm>
#include <array>
#include <cmath>

namespace syntonon {
namespace {

// As it is set, off or on.
std::optional<FilterModel> model_of(const Stage* stage) {
    if (stage == nullptr) {
        return std::nullopt;
    }
    if (const auto* ladder = std::get_if<LadderSpec>(&*stage->spec)) {
        return LadderModel{build_of(*ladder), knobs_of(*ladder)};
    }
    if (const auto* state_variable = std::get_if<StateVariableSpec>(&*stage->spec)) {
        return StateVariableModel{build_of(*state_variable), knobs_of(*state_variable)};
    }
    return std::nullopt;
}

double set_frequency_of(const FilterModel& model) {
    return std::visit([](const auto& made) { return made.knobs.frequency_hz; }, model);
}

Filter filter_of(const FilterModel& model, const Axis& axis) {
    return std::visit(
        [&](const auto& made) { return modelled_filter(made.build, made.knobs, axis); }, model);
}

constexpr std::array shown_peaks_db = {-60.0, -20.0, -10.0, 0.0, 10.0};

LevelsPicture levels_of(const FilterModel& model, double rate_hz, const Watch& watch) {
    constexpr std::size_t points = 90;
    LevelsPicture picture;
    picture.set_hz = set_frequency_of(model);
    const double low = 20, high = std::min(20'000.0, rate_hz / 2);
    for (std::size_t i = 0; i < points; ++i) {
        picture.hz.push_back(low * std::pow(high / low, double(i) / double(points - 1)));
    }
    for (const double peak_db : shown_peaks_db) {
        picture.curves.push_back(
            {peak_db, driven_level_db(model, ratio_from_db(peak_db), picture.hz, watch)});
    }
    return picture;
}

} // namespace

ModelPlot::ModelPlot(QWidget* parent) : QWidget(parent) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setMinimumSize(220, 90);
    setAccessibleName(tr("The modelled filter"));
}

void ModelPlot::show_picture(std::optional<ModelPicture> picture, const QString& instead) {
    picture_ = std::move(picture);
    instead_ = instead;
    update();
}

void ModelPlot::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().ground);
    painter.setFont(text_font(11));
    if (picture_) {
        paint_model(painter, rect(), *picture_, theme());
        return;
    }
    painter.setPen(theme().soft);
    painter.drawText(rect().adjusted(16, 0, -16, 0), Qt::AlignCenter | Qt::TextWordWrap, instead_);
}

ModelPage::ModelPage(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), view_(new QComboBox), before_frequency_(new QLabel),
      before_amount_(new QLabel), frequency_(new QuantityEdit(Dimension::frequency, tr("Hz"))),
      amount_(new QuantityEdit(Dimension::plain, tr("dBFS"))), plot_(new ModelPlot),
      words_(new QLabel) {
    view_->addItems({tr("at several levels"), tr("harmonics"), tr("poles by resonance"),
                     tr("moved, beside a direct form")});
    view_->setAccessibleName(tr("What is shown of the model"));
    auto* head = new QHBoxLayout;
    head->setSpacing(6);
    head->addWidget(view_);
    constexpr int frequency_width = 72, amount_width = 68;
    frequency_->setFixedWidth(frequency_width);
    amount_->setFixedWidth(amount_width);
    before_frequency_->setBuddy(frequency_);
    before_amount_->setBuddy(amount_);
    for (QWidget* one :
         {static_cast<QWidget*>(before_frequency_), static_cast<QWidget*>(frequency_),
          static_cast<QWidget*>(before_amount_), static_cast<QWidget*>(amount_)}) {
        head->addWidget(one);
    }
    head->addStretch(1);
    words_->setWordWrap(true);
    words_->setFont(text_font(11));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 6, 8, 6);
    column->setSpacing(5);
    column->addLayout(head);
    column->addWidget(plot_, 1);
    column->addWidget(words_);
    connect(view_, &QComboBox::activated, this, [this] {
        show_fields();
        refresh();
    });
    connect(frequency_, &QuantityEdit::value_entered, this, [this](std::optional<double> hz) {
        constexpr double lowest = 1, highest = 20'000;
        if (hz) {
            (view_->currentIndex() == moved ? moves_hz_ : tone_hz_) =
                std::clamp(*hz, lowest, highest);
        }
        show_fields();
        refresh();
    });
    connect(amount_, &QuantityEdit::value_entered, this, [this](std::optional<double> value) {
        if (value && view_->currentIndex() == moved) {
            moves_oct_ = std::clamp(*value, -5.0, 5.0);
        } else if (value) {
            peak_db_ = std::clamp(*value, -120.0, 40.0);
        }
        show_fields();
        refresh();
    });
    connect(&session_, &Session::analysis_changed, this, &ModelPage::refresh);
    connect(&session_, &Session::selection_changed, this, &ModelPage::refresh);
    connect(&theme_notifier(), &ThemeNotifier::changed, this, [this] { plot_->update(); });
    show_fields();
}

bool ModelPage::is_there(const Session& session) {
    return model_of(session.stage()).has_value();
}

QString ModelPage::words() const {
    return words_->text();
}

void ModelPage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void ModelPage::show_fields() {
    const int view = view_->currentIndex();
    const bool has_fields = view == harmonics || view == moved;
    for (QWidget* one :
         {static_cast<QWidget*>(before_frequency_), static_cast<QWidget*>(frequency_),
          static_cast<QWidget*>(before_amount_), static_cast<QWidget*>(amount_)}) {
        one->setVisible(has_fields);
    }
    before_frequency_->setText(view == moved ? tr("at") : tr("of"));
    before_amount_->setText(view == moved ? tr("by") : tr("at"));
    amount_->set_unit(view == moved ? tr("oct") : tr("dBFS"));
    frequency_->setAccessibleName(view == moved ? tr("How often it is moved")
                                                : tr("Frequency of the sine"));
    amount_->setAccessibleName(view == moved ? tr("How far it is moved") : tr("Peak of the sine"));
    frequency_->show_value(view == moved ? moves_hz_ : tone_hz_);
    amount_->show_value(view == moved ? moves_oct_ : peak_db_);
}

void ModelPage::refresh() {
    if (!isVisible()) {
        return;
    }
    const auto model = model_of(session_.stage());
    if (!model) {
        shown_.reset();
        wished_.reset();
        plot_->show_picture(std::nullopt, tr("The selected stage is not a modelled one."));
        words_->clear();
        return;
    }
    const Wish wish{*model,
                    static_cast<View>(view_->currentIndex()),
                    session_.study().sample_rate_hz,
                    tone_hz_,
                    peak_db_,
                    moves_hz_,
                    moves_oct_};
    if (wished_ == wish) {
        return;
    }
    wished_ = wish;
    const auto work = [wish](const Watch& watch) -> ModelPicture {
        const double rate = wish.sample_rate_hz;
        switch (wish.view) {
        case harmonics: {
            const auto found = harmonics_of(filter_of(wish.model, rate), wish.tone_hz,
                                            ratio_from_db(wish.peak_db), rate);
            return HarmonicsPicture{found.value_or(Harmonics()), wish.peak_db};
        }
        case poles: {
            constexpr std::size_t steps = 49;
            const double resonance =
                std::visit([](const auto& made) { return made.knobs.resonance; }, wish.model);
            return PolesPicture{
                poles_by_resonance(wish.model, steps),
                {resonance,
                 std::visit(
                     [](const auto& made) { return modelled_roots(made.build, made.knobs).poles; },
                     wish.model)}};
        }
        case moved: {
            constexpr std::size_t samples = 3000;
            constexpr double tone_hz = 440;
            return MovedPicture{moved_beside_direct(wish.model, wish.moves_hz, wish.moves_oct,
                                                    ModulationWave::square, tone_hz, samples, rate),
                                rate};
        }
        case levels:
            break;
        }
        return levels_of(wish.model, rate, watch);
    };
    work_.begin(work, [this, wish](ModelPicture picture) { take(wish, std::move(picture)); });
}

void ModelPage::take(const Wish& wish, ModelPicture picture) {
    shown_ = wish;
    words_->setText(words_of(picture));
    plot_->show_picture(std::move(picture), {});
}

QString ModelPage::words_of(const ModelPicture& picture) const {
    if (const auto* levels_shown = std::get_if<LevelsPicture>(&picture)) {
        const auto& soft = levels_shown->curves.front().level_db;
        const auto& loud = levels_shown->curves.back().level_db;
        double most = 0;
        for (std::size_t i = 0; i < soft.size(); ++i) {
            const double change = std::abs(loud[i] - soft[i]);
            most = std::isfinite(change) ? std::max(most, change) : most;
        }
        constexpr double nothing_db = 0.005;
        return most < nothing_db
                   ? tr("Nothing saturates: it is the same at every level.")
                   : tr("By describing functions of the analog model; the loudest lies up to %1 dB "
                        "from the softest, which is the response that the lanes show.")
                         .arg(fixed_number(most, 1));
    }
    if (const auto* tone = std::get_if<HarmonicsPicture>(&picture)) {
        return tr("Distortion %1 %; all that lies beside the harmonics (folded back, or swinging "
                  "by itself) %2 dBFS.")
            .arg(shown_number(100 * tone->found.distortion, 3),
                 fixed_number(std::max(tone->found.rest_db, -200.0), 1));
    }
    if (const auto* path = std::get_if<PolesPicture>(&picture)) {
        double slowest = -1e9, hz = 0;
        for (const auto& pole : path->now.poles) {
            if (pole.real() > slowest) {
                slowest = pole.real();
                hz = std::abs(pole.imag());
            }
        }
        return slowest >= 0
                   ? tr("Small signals grow: it swings by itself.")
                   : tr("The pair nearest to the axis stands at %1 of the set frequency, Q %2.")
                         .arg(shown_number(hz, 3),
                              shown_number(std::hypot(slowest, hz) / (-2 * slowest), 3));
    }
    const auto& runs = std::get<MovedPicture>(picture).runs;
    return tr("Linear, at the sample rate, a sine of 440 Hz going in. As modelled: peak %1, energy "
              "%2 of what goes in, steps up to %3; as a direct form: peak %4, energy %5, steps up "
              "to %6.")
        .arg(shown_number(runs.modelled.peak, 3), shown_number(runs.modelled.energy, 3),
             shown_number(runs.modelled.jump, 3), shown_number(runs.direct.peak, 3),
             shown_number(runs.direct.energy, 3), shown_number(runs.direct.jump, 3));
}

} // namespace syntonon
