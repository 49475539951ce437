// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/voice_bank.h"

#include "core/filter/modelled/ladder_filter_kernel.h"
#include "core/filter/modelled/state_variable_filter_kernel.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

namespace syntonon {
namespace {

constexpr double bank_rate_hz = 48000;

// Of each code, against one voice alone, whose frequency changes at every sample.
template <class Kernel, class Made>
void expect_as_alone(const Made& model, BankCode code) {
    auto bank = bank_of(model, bank_rate_hz, code);
    std::array<Kernel, VoiceBank::voices> alone;
    for (auto& one : alone) {
        one.prepare(model.build, bank_rate_hz);
    }
    std::mt19937_64 random(5);
    std::uniform_real_distribution<double> share(0, 1);
    for (int n = 0; n < 2000; ++n) {
        VoiceBank::Row hz{}, row{};
        std::array<double, VoiceBank::voices> wanted{};
        for (std::size_t j = 0; j < hz.size(); ++j) {
            hz[j] = n % 7 == 0 ? 3000 : 20 * std::pow(1000, share(random));
            row[j] = 2 * share(random) - 1;
            auto knobs = model.knobs;
            knobs.frequency_hz = hz[j];
            alone[j].set(0, knobs);
            typename Kernel::Row x{row[j]};
            alone[j].process(&x, 1);
            wanted[j] = x[0];
        }
        bank->set_frequencies(hz);
        bank->process(&row, 1);
        ASSERT_EQ(row, wanted) << n;
    }
}

TEST(VoiceBank, EveryCodeComputesEachVoiceToTheLastBitAsAlone) {
    std::vector<BankCode> codes = {BankCode::plain};
    for (const BankCode code : {BankCode::wide, BankCode::widest}) {
        if (has_banks(code)) {
            codes.push_back(code);
        }
    }
    for (const BankCode code : codes) {
        for (const bool saturating : {true, false}) {
            LadderModel ladder;
            ladder.build.type = modelled::LadderType::diode;
            ladder.build.saturating = saturating;
            ladder.build.response = modelled::LadderResponse::all_pass;
            ladder.knobs = {1000, saturating ? 1.2 : 0.8, 10};
            expect_as_alone<modelled::LadderFilter<1>>(ladder, code);
            ladder.build.type = modelled::LadderType::transistor;
            ladder.build.prewarped = false;
            expect_as_alone<modelled::LadderFilter<1>>(ladder, code);
        }
        StateVariableModel state_variable;
        state_variable.build.response = modelled::StateVariableResponse::high_shelf;
        state_variable.build.in_series = 2;
        state_variable.build.saturating = true;
        state_variable.build.doublings = 1;
        state_variable.knobs = {500, 0.7, 8, 12};
        expect_as_alone<modelled::StateVariableFilter<1>>(state_variable, code);
    }
}

TEST(VoiceBank, AVoiceAtRestIsSilent) {
    auto bank = bank_of(LadderModel(), bank_rate_hz);
    VoiceBank::Row row;
    for (int n = 0; n < 100; ++n) {
        row.fill(0.5);
        bank->process(&row, 1);
    }
    EXPECT_NE(row[3], 0);
    bank->reset(3);
    row.fill(0);
    bank->process(&row, 1);
    EXPECT_EQ(row[3], 0);
    EXPECT_NE(row[2], 0);
}

} // namespace
} // namespace syntonon
