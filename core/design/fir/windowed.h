// The ideal impulse response, cut to length by a window.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/fir/method.h"
#include "core/math/window.h"

#include <array>
#include <optional>

namespace syntonon {

struct WindowedFir {
    static constexpr std::string_view key = "windowed", title = "Windowed";
    enum class By { edges, bands, tolerances }; // bands: or the goal
    enum class Scale { none, unity };

    By by = By::edges; // the numbers of the other ways are kept
    ClassicalBand band = ClassicalBand::low_pass;
    std::array<double, 2> edges_hz{5000, 10000}; // half the gain
    Tolerances tolerances;                       // for a Kaiser window; the length follows
    Window window;
    Scale scale = Scale::unity;          // the gain at 0 Hz, half the rate or the band's middle
    std::optional<double> delay_samples; // else the middle

    bool operator==(const WindowedFir&) const = default;
};

inline constexpr std::size_t most_windowed = 1 << 20;

// A. V. Oppenheim and R. W. Schafer, Discrete-Time Signal Processing, 3rd ed., sections 7.5
// and 7.6. By tolerances: Kaiser's formulas give beta and a length, which then is raised until they
// are met; the length of the task says nothing then. Gaps between bands are bridged by straight
// lines. Refuses even lengths for high-pass and band-stop filters about the middle.
Expected<FirMade> made(const WindowedFir& method, const FirTask& task);

} // namespace syntonon
