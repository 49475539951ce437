// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/finish_designs.h"

#include <chrono>
#include <future>

namespace syntonon {
namespace {

std::vector<DesignJob> jobs_of_all(const Study& study, std::span<const ChannelView> views,
                                   Briefs& briefs) {
    std::vector<DesignJob> jobs;
    for (const ChannelView& view : views) {
        if (const Channel* channel = channel_of(study, view.channel)) {
            add_jobs(jobs_of(study, *channel, view.view, briefs), jobs);
        }
    }
    return jobs;
}

DesignStore::Result run_watched(const DesignJob& job, DesignStore& store,
                                const Progress& progress) {
    constexpr std::chrono::milliseconds pause(100);
    const Watch watch;
    auto running = std::async(std::launch::async, [&] { return run(job, store, watch); });
    while (running.wait_for(pause) != std::future_status::ready) {
        progress(job, watch.done());
    }
    return running.get();
}

} // namespace

void finish_designs(const Study& study, std::span<const ChannelView> views, Briefs& briefs,
                    const Progress& progress) {
    std::vector<DesignStore::Result> held; // or a small store would let the first ones go
    for (auto jobs = jobs_of_all(study, views, briefs); !jobs.empty();
         jobs = jobs_of_all(study, views, briefs)) {
        for (const DesignJob& job : jobs) {
            held.push_back(progress ? run_watched(job, briefs.store(), progress)
                                    : run(job, briefs.store()));
        }
    }
}

} // namespace syntonon
