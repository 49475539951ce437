// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/mending.h"

#include "app/model/stage_commands.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/words.h"
#include "core/study/finish_designs.h"
#include "core/study/mend.h"

#include <QStringList>
#include <algorithm>
#include <array>
#include <cmath>

namespace syntonon {
namespace {

// As it is called after the change; what was added only that.
QString line_of(const MendChange& change, const Chain& stages) {
    const Stage* stage = find_stage(stages, change.knob.stage);
    constexpr int digits = 4;
    return QStringLiteral("%1: %2 %3 → %4 %5")
        .arg(stage != nullptr ? spoken_name(*stage) : QString(),
             QString::fromStdString(change.caption).toLower(), shown_number(change.from, digits),
             shown_number(change.to, digits), QString::fromStdString(change.unit))
        .trimmed();
}

QString words_of(const Mended& mended) {
    QStringList lines;
    for (const std::string& id : mended.added) {
        const Stage* stage = find_stage(mended.stages, id);
        lines << QObject::tr("added %1 %2")
                     .arg(QString::fromStdString(title_of(*stage)),
                          QString::fromStdString(summary_of(*stage)));
    }
    constexpr qsizetype most = 6;
    qsizetype more = 0;
    for (const MendChange& change : mended.changes) {
        if (std::ranges::find(mended.added, change.knob.stage) != mended.added.end()) {
            continue;
        }
        if (lines.size() < most) {
            lines << line_of(change, mended.stages);
        } else {
            ++more;
        }
    }
    if (more > 0) {
        lines << QObject::tr("and %1").arg(counted(more, "other number", "other numbers"));
    }
    return lines.join(QStringLiteral("; "));
}

} // namespace

Mending::Mending(Session& session, QObject* parent) : QObject(parent), session_(session) {
    constexpr int showing_ms = 250;
    showing_.setInterval(showing_ms);
    connect(&showing_, &QTimer::timeout, this,
            [this] { emit working(static_cast<int>(std::lround(100 * work_.done()))); });
}

void Mending::stop() {
    showing_.stop();
    if (work_.is_busy()) {
        work_.stop();
        emit refused(tr("Stopped; the chain is as it was."));
    }
}

Expected<void> Mending::begin() {
    const Channel* channel = session_.channel();
    if (channel == nullptr) {
        return refuse("", "there is no channel", "add one");
    }
    if (is_busy()) {
        return refuse("", "the chain is being mended", "wait until that is done");
    }
    work_.begin(
        [study = session_.study(), id = channel->id](const Watch& watch) {
            Briefs briefs;
            const Channel& of = *channel_of(study, id);
            finish_designs(study, std::array{ChannelView{id, {}}}, briefs); // long FIRs among them
            return mend(study, of, knobs_to_mend(of), briefs, watch, most_added);
        },
        [this, id = channel->id, was = channel->stages](const Expected<Mended>& mended) {
            showing_.stop();
            const Channel* now = session_.channel();
            if (!mended) {
                emit refused(QString::fromStdString(to_text(mended.error())));
            } else if (now == nullptr || now->id != id || !(now->stages == was)) {
                emit refused(tr("The chain was changed meanwhile: mend it once more."));
            } else {
                const QString words = words_of(*mended);
                session_.edit_channel(tr("Mend the chain"),
                                      [&](Channel& edited) { edited.stages = mended->stages; });
                emit ended(words, mended->is_met);
            }
        });
    showing_.start();
    return {};
}

} // namespace syntonon
