// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/tour/tour_steps.h"

#include "app/desks/deliver_desk.h"
#include "app/desks/listen_desk.h"
#include "app/desks/measure_desk.h"
#include "app/desks/shape_desk.h"
#include "app/main_window.h"
#include "app/model/stage_commands.h"
#include "app/model/take_commands.h"
#include "app/panes/companion.h"
#include "app/panes/goal_pane.h"
#include "app/panes/listen/voices_page.h"
#include "app/panes/measure/positions_pane.h"
#include "app/panes/rail.h"
#include "app/panes/trim/new_stages.h"
#include "app/panes/trim_strip.h"
#include "app/panes/verdict_bar.h"
#include "app/plot/lane_stack.h"
#include "app/top_bar.h"
#include "app/widgets/tab_strip.h"
#include "app/widgets/words.h"
#include "core/study/kinds.h"
#include "demo/brightwater.h"

#include <QAction>
#include <QKeySequence>
#include <algorithm>
#include <variant>

namespace syntonon {
namespace {

void select(MainWindow& window, std::string_view channel, const std::string& stage = {}) {
    const auto& all = window.session().study().channels;
    const auto at = std::ranges::find_if(all, [&](const auto& c) { return c->id == channel; });
    if (at != all.end()) {
        window.session().select({static_cast<int>(at - all.begin()), stage});
    }
}
bool is_channel(MainWindow& window, std::string_view id) {
    const Channel* channel = window.session().channel();
    return channel != nullptr && channel->id == id;
}
void shape(MainWindow& window) {
    window.show_desk(Desk::shape);
}
// What a menu has under that key.
void press(MainWindow& window, const QKeySequence& keys) {
    for (QAction* action : window.findChildren<QAction*>()) {
        if (action->shortcut() == keys) {
            action->trigger();
            return;
        }
    }
}
void add_offered(MainWindow& window, const QString& title) {
    const auto& offers = new_stages();
    const auto at = std::ranges::find(offers, title, &NewStage::title);
    if (at != offers.end()) {
        add_stage(window.session(), at->spec);
    }
}

QList<TourStep> first_stage() {
    return {
        {tr("What there is"),
         tr("A planetarium's dome with its loudspeakers. At the left the rail: the chain of the "
            "channel "
            "Zenith, as the signal flows. In the middle the lanes: grey what was measured in four "
            "rows of "
            "seats, dark what the chain makes of it, pale the corridor that it has to stay in. At "
            "the foot "
            "the verdict, always on. The tabs above are the channels. Nothing that you do here "
            "touches "
            "your own studies."),
         [](MainWindow& w) { shape(w), select(w, "zenith"); },
         [](MainWindow& w) { return w.lanes(); },
         {},
         {}},
        {tr("Take a stage in hand"),
         tr("Sunrise is half done. Click a card on the rail: its curve turns copper, its fields "
            "come into "
            "the strip below, its grips onto the lane."),
         [](MainWindow& w) { shape(w), select(w, "sunrise"); },
         [](MainWindow& w) { return w.rail(); }, [](MainWindow& w) { select(w, "sunrise", "s2"); },
         [](MainWindow& w) { return is_channel(w, "sunrise") && w.session().stage() != nullptr; }},
        {tr("Shape it"),
         tr("Drag the copper square: along for the frequency, up and down for the gain; the wheel "
            "makes it "
            "wide or narrow, Shift is fine, Escape takes the drag back. Watch the verdict while "
            "you do."),
         {},
         [](MainWindow& w) { return w.lanes(); },
         [](MainWindow& w) {
             select(w, "sunrise", "s2");
             w.session().edit_stage(tr("Gain"), [](Stage& stage) {
                 std::get<ParametricSpec>(stage.spec.edit()).gain_db -= 2;
             });
         },
         [](MainWindow& w) { return w.session().history().index() > 0; }},
        {tr("Or by number"),
         tr("The fields take units and sums: 1k, 1.2 kHz, x0.5, 0.25 fs. Try a frequency. What "
            "cannot be "
            "is said below the field and not taken."),
         {},
         [](MainWindow& w) { return w.trim(); },
         [](MainWindow& w) {
             select(w, "sunrise", "s2");
             w.session().edit_stage(tr("Frequency"), [](Stage& stage) {
                 std::get<ParametricSpec>(stage.spec.edit()).frequency_hz *= 1.02;
             });
         },
         [](MainWindow& w) { return w.session().history().index() > 1; }},
        {tr("Take it back"),
         tr("Ctrl+Z takes back a step; Edit · History… (Ctrl+H) lists all of them by name, and a "
            "click goes there."),
         {},
         [](MainWindow& w) { return w.top_bar(); },
         [](MainWindow& w) { w.session().history().undo(); },
         [](MainWindow& w) { return w.session().history().canRedo(); }},
    };
}

QList<TourStep> reading() {
    return {
        {tr("Read exactly"),
         tr("The hairline follows the pointer and reads every curve. A click leaves it standing, "
            "Shift and a "
            "click lets a second one down and reads the difference. A click on an axis changes its "
            "unit."),
         [](MainWindow& w) { shape(w), w.session().plumb().take_away(); },
         [](MainWindow& w) { return w.lanes(); },
         [](MainWindow& w) {
             constexpr double somewhere_hz = 1200;
             w.session().plumb().set(somewhere_hz);
             w.session().plumb().pin(true);
         },
         [](MainWindow& w) { return w.session().plumb().is_pinned(); }},
        {tr("Trust the verdict"),
         tr("Filled discs are met, open lozenges are not, each with its margin and its worst "
            "frequency, "
            "looked for between the points that are drawn. Click one and the lanes show the place. "
            "Shift+F9 lists all channels."),
         [](MainWindow& w) { shape(w), select(w, "sunrise"); },
         [](MainWindow& w) { return w.verdict(); }, [](MainWindow& w) { w.show_verdict(); },
         [](MainWindow& w) { return w.upper()->shown_page() == ShapeDesk::verdict; }},
        {tr("What is wanted"),
         tr("F9 shows the goal: target, corridor, requirements, weights. Points and edges are "
            "dragged on the "
            "lane or typed in the tables."),
         {},
         [](MainWindow& w) { return w.upper(); },
         [](MainWindow& w) { w.show_goal(); },
         [](MainWindow& w) { return w.upper()->shown_page() == ShapeDesk::goal; }},
    };
}

QList<TourStep> mending() {
    return {
        {tr("Keep it for comparison"),
         tr("F4 freezes the chain as a take: a plum curve that stays while you go on. Shift+F4 "
            "lists takes; "
            "one can be restored, or subtracted."),
         [](MainWindow& w) { shape(w), select(w, "sunrise"); },
         [](MainWindow& w) { return w.lanes(); }, [](MainWindow& w) { freeze_take(w.session()); },
         [](MainWindow& w) {
             return is_channel(w, "sunrise") && !w.session().channel()->takes.empty();
         }},
        {tr("Let the program mend it"),
         tr("Goal · Mend the chain (Ctrl+Shift+G) turns what there is as little as it takes to "
            "meet the goal, and adds a bell "
            "where that is not enough. It takes a moment; what it changed is listed above the "
            "lanes, the take shows what was."),
         [](MainWindow& w) { shape(w), select(w, "sunrise"); },
         [](MainWindow& w) { return w.lanes(); },
         [](MainWindow& w) { press(w, QKeySequence("Ctrl+Shift+G")); },
         [](MainWindow& w) { return w.session().history().undoText() == tr("Mend the chain"); }},
    };
}

QList<TourStep> designing() {
    return {
        {tr("Poles and zeros"),
         tr("Drag a cross or a ring in the plane: the curves follow, and so do the fields of the "
            "stage that owns it."),
         [](MainWindow& w) {
             shape(w), select(w, "docent", "s2");
             w.upper()->show_page(ShapeDesk::roots);
         },
         [](MainWindow& w) { return w.upper(); },
         {},
         {}},
        {tr("The numbers behind it"),
         tr("The page Working shows how a design came about, number by number, to be held against "
            "a textbook. F1 "
            "explains the page that you are on; the glossary has the equations."),
         [](MainWindow& w) { shape(w), select(w, "plenum", "s1"); },
         [](MainWindow& w) { return w.upper(); }, [](MainWindow& w) { w.show_working(); },
         [](MainWindow& w) { return w.upper()->shown_page() == ShapeDesk::working; }},
        {tr("An FIR by its bands"),
         tr("Insert adds a stage: choose FIR · Equiripple. Below the lanes its bands, weights, "
            "window and phase; "
            "Ctrl+M holds all methods against the goal."),
         [](MainWindow& w) { shape(w), select(w, "sunset"); },
         [](MainWindow& w) { return w.rail(); },
         [](MainWindow& w) { add_offered(w, tr("Equiripple")); },
         [](MainWindow& w) {
             return is_channel(w, "sunset") && !w.session().channel()->stages.empty();
         }},
    };
}

QList<TourStep> measuring() {
    return {
        {tr("The desk Measure"),
         tr("Four desks, at the top right, in the order of the work. Measure has the positions of "
            "a channel, "
            "their average, the impulse response with its gate, decay; and a sweep, for rooms real "
            "and simulated."),
         [](MainWindow& w) { select(w, "zenith"); },
         [](MainWindow& w) { return w.top_bar()->desks(); },
         [](MainWindow& w) { w.show_desk(Desk::measure); },
         [](MainWindow& w) { return w.frame()->desk() == Desk::measure; }},
        {tr("Positions"),
         tr("Click a position to take it in hand; the ticks show curves, weights are typed. The "
            "averages below say "
            "what they are: of power, of dB, of vectors."),
         [](MainWindow& w) { w.show_desk(Desk::measure); },
         [](MainWindow& w) { return w.measure().positions(); },
         {},
         {}},
    };
}

QList<TourStep> listening() {
    return {
        {tr("The desk Listen"),
         tr("Docent's narration with a rumble and a fan, before the chain and after it: waveforms, "
            "spectrum, what "
            "stands out. Space plays, and every drag is heard."),
         [](MainWindow& w) { select(w, "docent"); },
         [](MainWindow& w) { return w.top_bar()->desks(); },
         [](MainWindow& w) { w.show_desk(Desk::listen); },
         [](MainWindow& w) { return w.frame()->desk() == Desk::listen; }},
        {tr("Look closer"),
         tr("Drag over a stretch of the waveform: spectrum and figures are of that. Click a "
            "triangle on the "
            "spectrum, and a box offers to remove what stands out there."),
         [](MainWindow& w) { select(w, "docent"), w.show_desk(Desk::listen); },
         [](MainWindow& w) { return w.frame()->parts().middle; },
         {},
         {}},
        {tr("A ladder, played"),
         tr("Aurora has a diode ladder, and four notes with an envelope on its frequency; a plain "
            "state-variable "
            "filter runs beside it for comparison. Type another depth for the envelope on the page "
            "Voices."),
         [](MainWindow& w) {
             select(w, "aurora", "ladder"), w.show_desk(Desk::listen);
             w.listen().voices();
         },
         [](MainWindow& w) { return w.listen().voices(); },
         [](MainWindow& w) {
             w.session().edit_channel(tr("Envelope"), [](Channel& channel) {
                 channel.bench.modulation.envelope_oct += 1;
             });
         },
         [](MainWindow& w) {
             static const Study demo = brightwater_study();
             const Channel* channel = w.session().channel();
             return is_channel(w, "aurora")
                    && channel->bench.modulation != channel_of(demo, "aurora")->bench.modulation;
         }},
    };
}

QList<TourStep> handing_over() {
    return {
        {tr("The desk Deliver"),
         tr("Deliveries: files, sources, a processor's words, a device on the network. Each card "
            "says whether it is "
            "written and still as the study."),
         [](MainWindow& w) { select(w, "zenith"); },
         [](MainWindow& w) { return w.top_bar()->desks(); },
         [](MainWindow& w) { w.show_desk(Desk::deliver); },
         [](MainWindow& w) { return w.frame()->desk() == Desk::deliver; }},
        {tr("In a processor's words"),
         tr("Amplifier chips holds its numbers in 28 bits: what that makes of the level stands in "
            "the middle, noise and room on the page Words. At the right of the verdict every lane "
            "can be seen as the words make it."),
         [](MainWindow& w) { select(w, "zenith"), w.show_desk(Desk::deliver); },
         [](MainWindow& w) { return w.frame()->parts().middle; },
         [](MainWindow& w) { w.deliver().choose("amplifiers"); },
         [](MainWindow& w) { return w.deliver().chosen() == "amplifiers"; }},
        {tr("Written and read back"),
         tr("Write files reads every file back from the disk and says how far it is from the "
            "design. In this tour they go "
            "into a folder that vanishes with it."),
         [](MainWindow& w) { select(w, "zenith"), w.show_desk(Desk::deliver); },
         [](MainWindow& w) { return w.frame()->parts().left; },
         {},
         {}},
        {tr("To a device"),
         tr("Dome rack goes to a processor that speaks AES70; one is simulated in this program. "
            "Dry run says what would "
            "be set, Send mutes, sets, reads back and compares."),
         [](MainWindow& w) {
             select(w, "zenith"), w.show_desk(Desk::deliver);
             w.deliver().choose("rack");
         },
         [](MainWindow& w) { return w.frame()->parts().upper; },
         {},
         {}},
        {tr("Go on by yourself"),
         tr("Study · New begins an empty study, a measurement can be dropped on the window. F1 "
            "explains where you are, "
            "Shift+F1 lists the keys, and syntonon-batch does in a shell what is done here. This "
            "window stays as it is "
            "until you close it."),
         shape,
         {},
         {},
         {}},
    };
}

} // namespace

QList<TourStep> tour_steps() {
    return first_stage() + reading() + mending() + designing() + measuring() + listening()
           + handing_over();
}

} // namespace syntonon
