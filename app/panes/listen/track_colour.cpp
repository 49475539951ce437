// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/listen/track_colour.h"

#include "app/plot/lane_curves.h"
#include "app/widgets/theme.h"
#include "core/study/compared_chain.h"

#include <algorithm>

namespace syntonon {
namespace {

template <class Items>
std::size_t place_in(const Items& items, const std::string& key) {
    const auto found =
        std::ranges::find(items, key, [](const auto& item) { return key_of(*item); });
    return static_cast<std::size_t>(found - items.begin());
}

QColor colour_of_compared(const Session& session, const std::string& key) {
    const Channel* own = session.channel();
    if (own == nullptr) {
        return theme().plum;
    }
    if (const std::size_t i = place_in(own->takes, key); i < own->takes.size()) {
        return take_colour(i);
    }
    if (key.starts_with("words:")) {
        return theme().text; // as on the lanes
    }
    const auto& channels = session.study().channels;
    const std::size_t i = place_in(channels, key);
    return channel_colour(i < channels.size() ? QString::fromStdString(channels[i]->colour)
                                              : QString(),
                          static_cast<int>(i));
}

} // namespace

QColor colour_of(const BenchWork& bench, Track track) {
    switch (track) {
    case Track::in:
        return theme().measured;
    case Track::out:
        return theme().ink;
    case Track::reference:
        return theme().corridor_edge;
    case Track::difference:
        return theme().met; // as on the lanes
    case Track::first_compared:
    case Track::second_compared:
        break;
    }
    return colour_of_compared(bench.session(), bench.compared(track));
}

} // namespace syntonon
