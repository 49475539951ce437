// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/plane_roots.h"

#include "app/model/root_commands.h"
#include "core/base/units.h"
#include "core/study/kinds.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

struct StageRoots {
    std::string stage;
    const Roots* roots;
    int times;
};

// Null where there are none, or none yet.
const Roots* known_roots(const Session& session, const StageAnalysis& stage,
                         const std::string& id) {
    const auto* roots = stage.filter ? session.slow_roots().of(id, *stage.filter) : nullptr;
    return roots != nullptr && *roots ? &**roots : nullptr;
}

// A repetition's roots are those of its stages, so many times; what another stage stands for has
// none of its own.
void add_stages(const Session& session, const Chain& chain, int times,
                std::vector<StageRoots>& all) {
    const std::size_t before = all.size();
    for (const auto& stage : chain) {
        const StageAnalysis* designed = session.analysis()->stage(stage->id);
        if (!stage->enabled || designed == nullptr) {
            continue;
        }
        if (stands_for_above(stage->spec)) {
            all.resize(before);
        }
        if (const auto* repeat = std::get_if<RepeatSpec>(&*stage->spec)) {
            add_stages(session, repeat->stages, times * repeat->count, all);
        } else if (const Roots* roots = known_roots(session, *designed, stage->id)) {
            all.push_back({stage->id, roots, times});
        }
    }
}

std::vector<StageRoots> stages_with_roots(const Session& session) {
    std::vector<StageRoots> all;
    add_stages(session, session.channel()->stages, 1, all);
    return all;
}

void add_roots(const StageRoots& stage, std::vector<PlaneRoot>& roots) {
    const auto first = static_cast<std::ptrdiff_t>(roots.size());
    for (const bool pole : {false, true}) {
        const auto& list = pole ? stage.roots->poles : stage.roots->zeros;
        for (std::size_t i = 0; i < list.size(); ++i) {
            const auto same =
                std::find_if(roots.begin() + first, roots.end(), [&](const PlaneRoot& r) {
                    return r.ref.place.is_pole == pole && r.value == list[i];
                });
            if (same != roots.end()) {
                same->count += stage.times;
            } else {
                roots.push_back({{stage.stage, {pole, i}}, list[i], stage.times});
            }
        }
    }
}

} // namespace

std::vector<PlaneRoot> plane_roots(const Session& session, RootsShown shown) {
    std::vector<PlaneRoot> roots;
    const auto analysis = session.analysis();
    const Channel* channel = session.channel();
    if (analysis == nullptr || channel == nullptr) {
        return roots;
    }
    const std::string& selected = session.selection().stage;
    bool is_there = false;
    if (shown == RootsShown::whole_chain || session.stage() == nullptr) {
        auto stages = stages_with_roots(session);
        std::stable_partition(stages.begin(), stages.end(),
                              [&](const StageRoots& stage) { return stage.stage != selected; });
        for (const StageRoots& stage : stages) {
            is_there = is_there || stage.stage == selected;
            add_roots(stage, roots);
        }
    }
    // A part of a network has its own roots, which the whole need not have.
    const StageAnalysis* own = session.stage_analysis();
    const bool is_repeat =
        session.stage() != nullptr && std::holds_alternative<RepeatSpec>(*session.stage()->spec);
    const bool is_wanted = !is_there && !is_repeat && own != nullptr
                           && (session.stage()->enabled || shown == RootsShown::selected_stage);
    if (const Roots* of_own = is_wanted ? known_roots(session, *own, selected) : nullptr) {
        add_roots({selected, of_own, 1}, roots);
    } else if (is_repeat && shown == RootsShown::selected_stage) {
        std::vector<StageRoots> held;
        const auto& repeat = std::get<RepeatSpec>(*session.stage()->spec);
        add_stages(session, repeat.stages, repeat.count, held);
        for (const StageRoots& stage : held) {
            add_roots(stage, roots);
        }
    }
    return roots;
}

double preference_for(const Session& session, const RootRef& root) {
    return (root.stage == session.selection().stage ? 2 : 0)
           + (session.roots_in_hand().holds(root) ? 2 : 0);
}

std::vector<RootShare> root_shares(const Session& session, double hz) {
    std::vector<RootShare> shares;
    const Axis axis = session.axis();
    const Complex here = axis.is_analog() ? Complex(0, rad_per_s_from_hz(hz))
                                          : std::polar(1.0, axis.rad_per_sample(hz));
    const auto distance = [&](const Complex& root) {
        const double size = !axis.is_analog() ? 1
                            : root == 0.0     ? analog_unit_rad_per_s
                                              : std::abs(root);
        return std::abs(here - root) / size;
    };
    const auto angle = [&](const Complex& root) {
        return deg_from_rad(std::arg(axis.is_analog() ? here - root : 1.0 - root / here));
    };
    for (const StageRoots& stage : stages_with_roots(session)) {
        for (const bool pole : {true, false}) {
            for (const Complex& root : pole ? stage.roots->poles : stage.roots->zeros) {
                if (root.imag() < 0) {
                    continue; // told with its conjugate
                }
                const bool pair = root.imag() > 0;
                const double sign = (pole ? -1 : 1) * stage.times;
                const double db = db_from_ratio(distance(root))
                                  + (pair ? db_from_ratio(distance(std::conj(root))) : 0);
                const double deg = angle(root) + (pair ? angle(std::conj(root)) : 0);
                shares.push_back(
                    {sign * db, std::remainder(sign * deg, 360.0), stage.stage, root, pole});
            }
        }
    }
    std::ranges::stable_sort(shares, std::greater<>(),
                             [](const RootShare& s) { return std::abs(s.db); });
    return shares;
}

} // namespace syntonon
