// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/structure.h"

#include "core/word/network_paths.h"
#include "core/word/section_in_words.h"
#include "tests/support/noise.h"
#include "tests/support/word_chains.h"

#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

// In doubles, the state's error fed back being none.
std::vector<double> run_network(const StructuredSection& section, Structure structure,
                                std::vector<double> signal) {
    FloatingSection network(network_of(structure, section.real_poles), section.values, {});
    for (double& x : signal) {
        x = network.step(x);
    }
    return signal;
}

TEST(Structure, EveryOneIsTheSection) {
    const std::vector<double> input = noise(4000, 1);
    for (const auto& named_structure : structures()) {
        for (const Biquad& section : many_sections()) {
            const auto held = structured(section, named_structure.value);
            ASSERT_TRUE(held) << named_structure.key;
            std::vector<double> wanted = input;
            run(Cascade{{section}}, wanted);
            const std::vector<double> out = run_network(*held, named_structure.value, input);
            double worst = 0;
            for (std::size_t n = 0; n < out.size(); ++n) {
                worst = std::max(worst, std::abs(out[n] - wanted[n]));
            }
            EXPECT_LT(worst, 1e-8) << named_structure.key << " " << section.a1 << " " << section.a2;
            const Biquad again = biquad_of(*held, named_structure.value);
            EXPECT_NEAR(again.b0, section.b0, 1e-12);
            EXPECT_NEAR(again.b1, section.b1, 1e-12);
            EXPECT_NEAR(again.b2, section.b2, 1e-12);
            EXPECT_NEAR(again.a1, section.a1, 1e-12);
            EXPECT_NEAR(again.a2, section.a2, 1e-12);
        }
    }
}

// Numbers rounded so coarsely that no two structures are the same filter any more: what biquad_of
// says is still what the network does.
TEST(Structure, SaysWhatItsRoundedNumbersMake) {
    const std::vector<double> input = noise(300, 2);
    for (const auto& named_structure : structures()) {
        for (const Biquad& section : many_sections()) {
            StructuredSection held = structured(section, named_structure.value).value();
            for (double& value : held.values) {
                value = std::round(value * 64) / 64;
            }
            std::vector<double> wanted = input;
            run(Cascade{{biquad_of(held, named_structure.value)}}, wanted);
            const std::vector<double> out = run_network(held, named_structure.value, input);
            for (std::size_t n = 0; n < out.size(); ++n) {
                ASSERT_NEAR(out[n], wanted[n], 1e-7 * (1 + std::abs(wanted[n])))
                    << named_structure.key << " at " << n;
            }
        }
    }
}

TEST(Structure, HoldsUnstableSectionsWhereItCan) {
    const Biquad unstable{1, 0, 0, -2.1, 1.2};
    EXPECT_FALSE(structured(unstable, Structure::normalised_lattice));
    EXPECT_FALSE(structured(unstable, Structure::state_variable));
    EXPECT_TRUE(structured(unstable, Structure::direct_form_1));
    EXPECT_NEAR(
        biquad_of(structured(unstable, Structure::coupled_form).value(), Structure::coupled_form)
            .a2,
        1.2, 1e-12);
}

TEST(Structure, StepByStepIsTheSame) {
    const std::vector<double> input = noise(200, 3);
    for (const auto& named_structure : structures()) {
        const StructuredSection held =
            structured(many_sections()[3], named_structure.value).value();
        const Network& network = network_of(named_structure.value, held.real_poles);
        FloatingSection plain(network, held.values, {});
        FloatingSection in_steps(step_by_step(network), held.values, {});
        for (const double x : input) {
            ASSERT_EQ(plain.step(x), in_steps.step(x)) << named_structure.key;
        }
    }
}

// The network's paths against runs of it: from the input to each sum, and from an error added to a
// sum to the output.
TEST(NetworkPaths, AreWhatComesOut) {
    for (const auto& named_structure : structures()) {
        const StructuredSection held =
            structured(many_sections()[0], named_structure.value).value();
        const Network& network = network_of(named_structure.value, held.real_poles);
        const LinearNetwork linear = linear_network(network, held.values);
        const NetworkPaths paths = network_paths(linear);
        // A step by the linear equations, from an input and an error of one of the sums.
        std::array<double, most_network_states> states{};
        for (std::size_t j = 0; j < network.sums.size(); ++j) {
            states = {};
            std::vector<double> answer;
            for (int n = 0; n < 4000; ++n) {
                const double error = n == 0 ? 1 : 0;
                double out = linear.injected[j].output * error;
                std::array<double, most_network_states> next{};
                for (std::size_t i = 0; i < linear.states; ++i) {
                    out += linear.output.states[i] * states[i];
                    next[i] = linear.injected[j].next[i] * error;
                    for (std::size_t k = 0; k < linear.states; ++k) {
                        next[i] += linear.next[i].states[k] * states[k];
                    }
                }
                states = next;
                answer.push_back(out);
            }
            const std::complex<double> z = std::polar(1.0, 0.3);
            std::complex<double> sum = 0, place = 1;
            for (const double value : answer) {
                sum += value * place;
                place /= z;
            }
            EXPECT_NEAR(std::norm(sum), power_at(paths.to_output[j], z) / power_at(paths.poles, z),
                        1e-9)
                << named_structure.key << " " << network.sums[j].name;
        }
        EXPECT_NEAR(power_at(paths.through, 1) / power_at(paths.poles, 1), 1, 1e-9);
    }
}

// Rounding errors of the sum are fed back as (1 - 1/z): none of them are left at 0 Hz.
TEST(NetworkPaths, ErrorFeedbackHasAZeroAtZeroHertz) {
    const StructuredSection held =
        structured(many_sections()[1], Structure::error_feedback).value();
    const NetworkPaths paths =
        network_paths(linear_network(network_of(Structure::error_feedback, false), held.values));
    EXPECT_NEAR(power_at(paths.to_output[0], 1), 0, 1e-20);
    const std::complex<double> z = std::polar(1.0, 2.0);
    const NetworkPaths plain =
        network_paths(linear_network(network_of(Structure::direct_form_1, false), held.values));
    EXPECT_NEAR(power_at(paths.to_output[0], z) / power_at(paths.poles, z),
                std::norm(1.0 - 1.0 / z) * power_at(plain.to_output[0], z)
                    / power_at(plain.poles, z),
                1e-12);
}

} // namespace
} // namespace syntonon
