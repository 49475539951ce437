// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/brief.h"

#include <algorithm>

namespace syntonon {
namespace {

template <class T>
bool is_same_content(const std::shared_ptr<const T>& a, const std::shared_ptr<const T>& b) {
    return a == b || (a != nullptr && b != nullptr && *a == *b);
}

} // namespace

Brief only(const Brief& brief, const Needs& needs) {
    Brief kept;
    kept.sample_rate_hz = brief.sample_rate_hz;
    kept.domain = brief.domain;
    if (needs.wished) {
        kept.wished = brief.wished;
    }
    if (needs.seen) {
        kept.seen = brief.seen;
    }
    if (needs.above || needs.seen) {
        kept.above = brief.above;
    }
    return kept;
}

bool is_same(const Brief& a, const Brief& b) {
    return a.axis() == b.axis() && is_same_content(a.wished, b.wished)
           && is_same_content(a.wished_timing, b.wished_timing)
           && is_same_content(a.impulse, b.impulse)
           && std::ranges::equal(a.seen.positions, b.seen.positions,
                                 [](const SeenCurve& x, const SeenCurve& y) {
                                     return x.weight == y.weight
                                            && is_same_content(x.curve, y.curve);
                                 })
           && is_same_content(a.seen.as_one, b.seen.as_one)
           && is_same_content(a.seen.timing, b.seen.timing) && a.above == b.above;
}

} // namespace syntonon
