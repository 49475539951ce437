// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/headless_sounds.h"

#include "app/desks/listen_desk.h"
#include "app/main_window.h"
#include "app/model/save_sound.h"
#include "app/pictures/photographer.h"
#include "core/study/file_names.h"

#include <QDir>
#include <array>
#include <fmt/format.h>

namespace syntonon {
namespace {

// The track's own name may be that of another, or not fit into a file's.
std::string word_of(const BenchWork& bench, Track track) {
    return track == Track::in ? "in" : track == Track::out ? "out" : bench.compared(track);
}

Expected<void> write_track(const BenchWork& bench, Track track, const std::string& channel,
                           const QString& folder) {
    const auto name =
        file_name("{channel}_{track}", {{"channel", channel}, {"track", word_of(bench, track)}});
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
        const std::string id = session.study().channels[static_cast<std::size_t>(i)]->id;
        if (channel_of(session.study(), id)->bench.signal.empty()) {
            continue;
        }
        session.select_channel(i);
        if (!QDir().mkpath(folder)) {
            return refuse(folder.toStdString(), "the folder cannot be made",
                          "move away what stands there, or choose another with --out");
        }
        wait_until([&] { return !window.listen().is_busy(); });
        const BenchWork& bench = window.listen().bench();
        for (const Track track : written) {
            if (!bench.is_wished(track)) {
                continue;
            }
            if (const QString& problem = bench.problem(track); !problem.isEmpty()) {
                fmt::print(stderr, "{}: no sound: {}\n", id, problem.toStdString());
                continue;
            }
            if (auto ok = write_track(bench, track, id, folder); !ok) {
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
