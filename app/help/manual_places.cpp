// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/help/manual_places.h"

#include "app/desks/desk_frame.h"
#include "app/panes/companion.h"

#include <QWidget>
#include <string_view>

namespace syntonon {
namespace {

struct Place {
    std::string_view class_name;
    const char* spot;
};

// By the widgets' classes, the more special ones first where one is made of another.
constexpr Place places[] = {
    {"BlindPage", "listen#blind-comparison"},
    {"TonePage", "listen#tone-and-meter"},
    {"VoicesPage", "instruments#play-it"},
    {"KeyRow", "instruments#play-it"},
    {"SignalsPage", "signals#signals"},
    {"RecipeForm", "signals#signals"},
    {"WaveformStack", "signals#waveforms"},
    {"SpanSpectrum", "signals#spectrum"},
    {"LevelsPage", "signals#levels-table-pictures"},
    {"StepsPage", "signals#levels-table-pictures"},
    {"BenchPicture", "signals#levels-table-pictures"},
    {"BenchView", "signals"},
    {"Transport", "listen"},
    {"LoadsPage", "words#processor-and-budget"},
    {"BudgetPane", "words#processor-and-budget"},
    {"ProcessorPage", "words#processor-and-budget"},
    {"WordsPage", "words#noise-room-search"},
    {"WordsPane", "words#levels-and-structures"},
    {"DevicePage", "devices"},
    {"MappingRow", "devices#what-goes-where"},
    {"TransferPage", "devices#what-goes-where"},
    {"DeliveryForm", "deliver"},
    {"DeliveryPreview", "deliver"},
    {"DeliveryCard", "deliver"},
    {"SweepPage", "measure#measure"},
    {"SimulatedRoomBox", "measure#measure"},
    {"SoundDeviceBox", "measure#measure"},
    {"MeasurementsDialog", "measure#many-files"},
    {"ImportDialog", "measure"},
    {"ImpulsePicture", "measure#what-counts-of-an-impulse-response"},
    {"ImpulsePane", "measure#what-counts-of-an-impulse-response"},
    {"ImpulsePlot", "measure#what-counts-of-an-impulse-response"},
    {"PositionsPane", "measure#a-channel-has-a-set-of-positions"},
    {"LevelsPane", "measure#levels"},
    {"MicrophonePage", "measure#microphone"},
    {"CurvesPane", "measure#curves"},
    {"CorridorTab", "goal#corridor"},
    {"RequirementsTab", "goal#requirements"},
    {"WeightsTab", "goal#weights"},
    {"TargetTab", "goal#target"},
    {"GoalPane", "goal"},
    {"VerdictPane", "verdict"},
    {"VerdictBar", "verdict"},
    {"TakesPane", "compare"},
    {"WorkingPane", "compare#working"},
    {"RootsPane", "roots"},
    {"RootsTrim", "roots#what-moves"},
    {"RecursionTrim", "roots#by-coefficients"},
    {"TextPane", "roots#as-text"},
    {"NumbersPane", "roots#as-text"},
    {"KnobBar", "roots#on-a-knob"},
    {"SweepBar", "roots#on-a-knob"},
    {"NetworkPane", "chain#the-page-network"},
    {"TimePane", "chain#impulse-table-and-delay-line"},
    {"TimeTable", "chain#impulse-table-and-delay-line"},
    {"DelayLinePane", "chain#impulse-table-and-delay-line"},
    {"ClassicalTrim", "chain#classical-filters"},
    {"SplitTrim", "chain#splits"},
    {"LoopTrim", "chain#repetitions-and-loops"},
    {"RepeatTrim", "chain#repetitions-and-loops"},
    {"ParametricTrim", "chain#by-hand-and-by-number"},
    {"WaysBar", "fir#all-methods-for-a-goal"},
    {"BandsPane", "fir#bands"},
    {"WeightsPane", "fir#weights"},
    {"SamplesPane", "fir#samples"},
    {"TradePane", "fir#what-more-taps-would-gain"},
    {"WindowPane", "fir#window"},
    {"PhasePane", "fir#phase"},
    {"TimeFormsPane", "fir#phase"},
    {"FirPage", "fir"},
    {"FirTrim", "fir"},
    {"TapsTrim", "fir#taps-from-elsewhere"},
    {"TapsInDialog", "fir#taps-from-elsewhere"},
    {"CoefficientsInDialog", "deliver#coefficients-that-others-wrote"},
    {"CorrectionPage", "correct#the-page-correction"},
    {"CorrectionTrim", "correct"},
    {"FittedPage", "fit#try-orders"},
    {"FittedTrim", "fit"},
    {"CrossoverPage", "cross-over#the-sum-and-off-axis"},
    {"CrossoverTrim", "cross-over"},
    {"ModelPage", "instruments#the-page-model"},
    {"ModelledTrim", "instruments"},
    {"JobsBox", "long-designs"},
    {"HistoryDialog", "trouble#history"},
    {"RecoveryDialog", "trouble"},
    {"MessageBar", "trouble"},
    {"ChannelList", "desks"},
    {"TopBar", "desks"},
    {"StartPage", "contents"},
    {"LaneStack", "read"},
    {"LanePlot", "read"},
    {"Rail", "chain"},
    {"TrimStrip", "chain#by-hand-and-by-number"},
};

const Place* place_of(const QMetaObject* of) {
    constexpr std::string_view home = "syntonon::";
    for (; of != nullptr; of = of->superClass()) {
        std::string_view name = of->className();
        if (!name.starts_with(home)) {
            continue;
        }
        name.remove_prefix(home.size());
        for (const Place& place : places) {
            if (place.class_name == name) {
                return &place;
            }
        }
    }
    return nullptr;
}

const char* spot_of_desk(Desk desk) {
    switch (desk) {
    case Desk::measure:
        return "measure";
    case Desk::shape:
        return "chain";
    case Desk::listen:
        return "signals";
    case Desk::deliver:
        return "deliver";
    }
    return "desks";
}

// What stands in a companion speaks for the words above it.
const Place* place_in(const QWidget& page) {
    if (const Place* own = place_of(page.metaObject())) {
        return own;
    }
    for (const QWidget* each : page.findChildren<QWidget*>()) {
        if (const Place* found = place_of(each->metaObject())) {
            return found;
        }
    }
    return nullptr;
}

} // namespace

ManualSpot manual_spot_of(const QWidget* place) {
    for (; place != nullptr; place = place->parentWidget()) {
        if (const Place* found = place_of(place->metaObject())) {
            return spot_of(found->spot);
        }
        if (const auto* companion = qobject_cast<const Companion*>(place)) {
            const QWidget* page = companion->findChild<QStackedWidget*>()->currentWidget();
            const Place* shown = page != nullptr ? place_in(*page) : nullptr;
            if (shown != nullptr) {
                return spot_of(shown->spot);
            }
        }
        if (const auto* frame = qobject_cast<const DeskFrame*>(place)) {
            return spot_of(spot_of_desk(frame->desk()));
        }
    }
    return {"contents", {}};
}

QList<ManualSpot> all_manual_spots() {
    QList<ManualSpot> spots;
    for (const Place& place : places) {
        spots.append(spot_of(place.spot));
    }
    return spots;
}

} // namespace syntonon
