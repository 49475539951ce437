// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/headless_sounds.h"

#include "app/desks/listen_desk.h"
#include "app/main_window.h"
#include "app/model/save_sound.h"
#include "app/pictures/photographer.h"
#include "core/study/file_names.h"

#include <QDir>
#include <array>

namespace syntonon {
namespace {

Expected<void> write_track(const BenchWork& bench, Track track, const std::string& channel,
                           const QString& folder) {
    if (const QString& problem = bench.problem(track); !problem.isEmpty()) {
        return refuse(channel, problem.toStdString());
    }
    const auto name =
        file_name("{channel}_{track}",
                  {{"channel", channel}, {"track", bench.word_for(track).toStdString()}});
    if (!name) {
        return tl::unexpected(name.error());
    }
    SaveSound saving;
    saving.save(bench.samples(track), bench.sample_rate_hz(),
                folder + '/' + QString::fromStdString(*name) + ".wav", {});
    wait_until([&] { return !saving.is_busy(); });
    return saving.has_failed() ? refuse("", saving.report().toStdString()) : Expected<void>();
}

} // namespace

Expected<int> write_bench_sounds(MainWindow& window, const QString& folder) {
    constexpr std::array written = {Track::in, Track::out, Track::first_compared,
                                    Track::second_compared};
    Session& session = window.session();
    const Selection before = session.selection();
    window.show_desk(Desk::listen);
    int count = 0;
    for (int i = 0; i < static_cast<int>(session.study().channels.size()); ++i) {
        session.select_channel(i);
        if (session.channel()->bench.signal.empty()) {
            continue;
        }
        if (!QDir().mkpath(folder)) {
            return refuse(folder.toStdString(), "the folder cannot be made");
        }
        wait_until([&] { return !window.listen().is_busy(); });
        const BenchWork& bench = window.listen().bench();
        for (const Track track : written) {
            if (!bench.is_wished(track)) {
                continue;
            }
            if (auto ok = write_track(bench, track, session.channel()->id, folder); !ok) {
                return tl::unexpected(ok.error());
            }
            ++count;
        }
    }
    session.select(before);
    window.show_desk(Desk::shape);
    return count;
}

} // namespace syntonon
