// The texts for processors, compiled and run: they must do what the run in words does.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/source_writers.h"

#include "core/engine/word_engine.h"
#include "core/word/fixed_program.h"
#include "tests/support/noise.h"
#include "tests/support/scratch.h"
#include "tests/support/word_chains.h"

#include <cmath>
#include <cstdlib>
#include <fmt/format.h>
#include <fmt/ranges.h>
#include <fstream>
#include <gtest/gtest.h>
#include <sstream>

namespace syntonon {
namespace {

Arithmetic twenty_bits(Rounding rounding, Overflow accumulator) {
    Arithmetic how;
    how.coefficient = Word::fixed(2, 18);
    how.shift = 1;
    how.data = Word::fixed(1, 19);
    how.state = Word::fixed(6, 22);
    how.accumulator = Word::fixed(10, 30); // shorter than products: they lose bits on the way in
    how.rounding = rounding;
    how.accumulator_overflow = accumulator;
    return how;
}

DeliveredChannel channel_in_words(Structure structure, const Arithmetic& how, bool with_taps = true,
                                  std::size_t delay_samples = 3) {
    DeliveredChannel channel{
        "c",
        {"Test", to_text({"", std::string(named(structures(), structure).key), ""}), rate, {}},
        WordChain{},
        {}};
    WordChain& words = *channel.words;
    words.structure = structure;
    words.section_words = words.tap_words = how;
    words.tap_words.state = how.data;
    words.delay_samples = channel.set.delay_samples = delay_samples;
    for (const std::size_t which : {0, 3, 5, 6}) { // complex poles and real ones
        const Biquad section = many_sections()[which];
        words.sections.push_back(rounded_to_words(section, structure, how));
        channel.set.cascade.sections.push_back(section);
    }
    for (const double tap : noise(with_taps ? 17 : 0, 3)) {
        words.taps.push_back(rounded(tap / 6, coefficient_values(how), Rounding::nearest));
        channel.set.taps.push_back(tap / 6);
    }
    return channel;
}

std::vector<double> loud_input(const Word& data) {
    std::vector<double> input = noise(600, 5);
    for (std::size_t n = 0; n < input.size(); ++n) {
        input[n] =
            rounded(n > 500 ? std::copysign(1.0, input[n]) : input[n] / 2, data, Rounding::nearest);
    }
    return input;
}

int run_command(const std::string& command) {
    return std::system(command.c_str());
}

// Compiles the class and runs it on the input; the output as numbers.
std::vector<double> output_of_class(const test::Scratch& scratch, const DeliveredChannel& channel,
                                    const std::vector<double>& input) {
    const auto text = cpp_class_text(channel);
    EXPECT_TRUE(text) << to_text(text.error());
    scratch.write("filter.hpp", text.value_or(""));
    const bool is_fixed = channel.words && channel.words->section_words.is_fixed();
    const double scale = is_fixed ? std::exp2(channel.words->section_words.data.fraction_bits) : 1;
    std::string rows;
    for (const double x : input) {
        rows += fmt::format("{:.17g},", x * scale);
    }
    scratch.write(
        "main.cpp",
        fmt::format("#include \"filter.hpp\"\n#include \"filter.hpp\"\n#include <cstdio>\n"
                    "static const double in[] = {{{}}};\n"
                    "int main() {{\n  static {} filter;\n  filter.process(1);\n"
                    "  filter.reset();\n"
                    "  for (double x : in) std::printf(\"%.17g\\n\", "
                    "double(filter.process(decltype(filter)::sample(x))));\n}}\n",
                    rows, source_name(channel.set)));
    const std::string folder = scratch.folder().string();
    EXPECT_EQ(run_command("c++ -std=c++17 -O1 -ffp-contract=off -pedantic -Wall -Wextra -Werror -o "
                          + folder + "/main " + folder + "/main.cpp && " + folder + "/main > "
                          + folder + "/out.txt"),
              0)
        << text.value_or("");
    std::vector<double> output;
    std::ifstream file(scratch.file("out.txt"));
    for (double value = 0; file >> value;) {
        output.push_back(value / scale);
    }
    return output;
}

TEST(CppClass, DoesWhatTheRunInWordsDoes) {
    struct {
        Structure structure;
        Rounding rounding;
        Overflow accumulator;
    } const cases[] = {{Structure::direct_form_1, Rounding::truncate, Overflow::wrap},
                       {Structure::transposed_form_2, Rounding::nearest, Overflow::saturate},
                       {Structure::coupled_form, Rounding::convergent, Overflow::wrap},
                       {Structure::error_feedback, Rounding::convergent, Overflow::saturate},
                       {Structure::state_variable, Rounding::nearest, Overflow::wrap}};
    for (const auto& c : cases) {
        const test::Scratch scratch;
        const DeliveredChannel channel =
            channel_in_words(c.structure, twenty_bits(c.rounding, c.accumulator));
        const std::vector<double> input = loud_input(channel.words->section_words.data);
        std::vector<double> wanted = input;
        WordEngine engine(*channel.words);
        engine.process(wanted);
        EXPECT_GT(engine.overflows(), 0); // its ends are reached, too
        EXPECT_EQ(output_of_class(scratch, channel, input), wanted)
            << named(structures(), c.structure).key;
    }
}

TEST(CppClass, ItsTestTellsAWrongNumber) {
    const test::Scratch scratch;
    const DeliveredChannel channel = channel_in_words(
        Structure::direct_form_1, twenty_bits(Rounding::nearest, Overflow::saturate));
    const std::string text = cpp_class_text(channel).value_or("");
    scratch.write("filter_test.cpp", cpp_test_text(channel, "rack/filter"));
    const auto ends_with = [&](const std::string& header) {
        scratch.write("filter.hpp", header);
        const std::string at = scratch.folder().string() + "/";
        EXPECT_EQ(run_command("c++ -std=c++17 -pedantic -Wall -Wextra -Werror -o " + at + "test "
                              + at + "filter_test.cpp"),
                  0);
        return run_command(at + "test > " + at + "said.txt");
    };
    EXPECT_EQ(ends_with(text), 0);
    EXPECT_EQ(test::bytes_of(scratch.file("said.txt")), "same as the run in words, 1024 samples\n");
    std::string wrong = text;
    const std::size_t number = wrong.find("{", wrong.find("numbers_[sections]") + 60);
    wrong.insert(wrong.find_first_of("123456789", number), "1");
    EXPECT_NE(ends_with(wrong), 0);
}

TEST(CppClass, DoesItInFloats) {
    for (const Structure structure : {Structure::direct_form_2, Structure::normalised_lattice}) {
        const test::Scratch scratch;
        const DeliveredChannel channel = channel_in_words(structure, short_floats());
        const std::vector<double> input = loud_input(Word::float32());
        std::vector<double> wanted = input;
        WordEngine(*channel.words).process(wanted);
        EXPECT_EQ(output_of_class(scratch, channel, input), wanted);
    }
}

TEST(CppClass, WithoutAProcessorWorksInDoubles) {
    const test::Scratch scratch;
    DeliveredChannel channel = channel_in_words(Structure::direct_form_1, short_floats());
    channel.words.reset();
    const std::vector<double> input = loud_input(Word::float32());
    std::vector<double> wanted = input;
    const std::vector<Filter> parts{Filter(channel.set.cascade), Filter(Taps(channel.set.taps)),
                                    Filter(Delay{channel.set.delay_samples})};
    series(parts).run(wanted);
    const std::vector<double> output = output_of_class(scratch, channel, input);
    ASSERT_EQ(output.size(), wanted.size());
    for (std::size_t n = 0; n < wanted.size(); ++n) {
        EXPECT_NEAR(output[n], wanted[n], 1e-9);
    }
}

TEST(CppClass, RefusesSumsThatNeedMoreThan64Bits) {
    Arithmetic wide = twenty_bits(Rounding::nearest, Overflow::wrap);
    wide.coefficient = Word::fixed(2, 30);
    wide.state = Word::fixed(6, 34);
    wide.accumulator = Word::fixed(10, 60);
    const auto refused = cpp_class_text(channel_in_words(Structure::direct_form_1, wide, false));
    ASSERT_FALSE(refused);
    EXPECT_FALSE(refused.error().way_out.empty());
}

bool has_simulator() {
    return run_command("command -v iverilog >/dev/null && command -v vvp >/dev/null") == 0;
}

std::string simulated(const test::Scratch& scratch, const DeliveredChannel& channel) {
    const auto texts = verilog_texts(channel, "f");
    EXPECT_TRUE(texts) << to_text(texts.error());
    if (!texts) {
        return "";
    }
    for (const DeliveredText& text : *texts) {
        scratch.write("f" + text.ending, text.text);
    }
    EXPECT_EQ(run_command(fmt::format("cd {} && iverilog -g2001 -Wall -o sim f.v f_bench.v > "
                                      "said.txt 2>&1 && vvp -n sim >> said.txt 2>&1",
                                      scratch.folder().string())),
              0);
    return test::bytes_of(scratch.file("said.txt"));
}

TEST(Verilog, DoesWhatTheRunInWordsDoes) {
    if (!has_simulator()) {
        GTEST_SKIP() << "iverilog is missing";
    }
    // Each structure with another way of rounding and of running over.
    const std::pair<Rounding, Overflow> ways[] = {{Rounding::truncate, Overflow::saturate},
                                                  {Rounding::nearest, Overflow::wrap},
                                                  {Rounding::convergent, Overflow::wrap},
                                                  {Rounding::convergent, Overflow::saturate}};
    std::size_t next = 0;
    for (const auto& named_structure : structures()) {
        const auto& [rounding, accumulator] = ways[next++ % 4];
        const test::Scratch scratch;
        const std::string said = simulated(
            scratch, channel_in_words(named_structure.value, twenty_bits(rounding, accumulator)));
        EXPECT_NE(said.find("1024 samples, the same as the run in words"), std::string::npos)
            << named_structure.key << ": " << said;
    }
}

TEST(Verilog, OfSectionsAloneAndOfTapsAlone) {
    if (!has_simulator()) {
        GTEST_SKIP() << "iverilog is missing";
    }
    const Arithmetic how = twenty_bits(Rounding::convergent, Overflow::wrap);
    DeliveredChannel channel = channel_in_words(Structure::direct_form_1, how, false, 0);
    {
        const test::Scratch scratch;
        EXPECT_NE(simulated(scratch, channel).find("the same"), std::string::npos);
    }
    channel = channel_in_words(Structure::direct_form_1, how);
    channel.words->sections.clear();
    const test::Scratch scratch;
    EXPECT_NE(simulated(scratch, channel).find("the same"), std::string::npos);
}

// A bench that cannot fail says nothing: with one bit of a number turned it tells what differs.
TEST(Verilog, TheBenchTellsAWrongNumber) {
    if (!has_simulator()) {
        GTEST_SKIP() << "iverilog is missing";
    }
    const test::Scratch scratch;
    const DeliveredChannel channel =
        channel_in_words(Structure::direct_form_1, twenty_bits(Rounding::nearest, Overflow::wrap));
    EXPECT_NE(simulated(scratch, channel).find("the same"), std::string::npos);
    std::string memory = test::bytes_of(scratch.file("f_sections.hex"));
    memory[3] = memory[3] == '0' ? '1' : '0';
    scratch.write("f_sections.hex", memory);
    EXPECT_EQ(run_command("cd " + scratch.folder().string() + " && vvp -n sim > again.txt"), 0);
    EXPECT_NE(test::bytes_of(scratch.file("again.txt")).find("samples differ"), std::string::npos);
}

TEST(Verilog, IsRefusedForFloats) {
    EXPECT_FALSE(verilog_texts(channel_in_words(Structure::direct_form_1, short_floats()), "f"));
}

TEST(HexWords, AreTheWordsInTheProcessorsOrder) {
    DeliveredChannel channel{"c", {"S", "C", 48000, {}}, WordChain{}, {}};
    Arithmetic how;
    how.coefficient = Word::fixed(1, 15);
    how.shift = 1;
    how.data = how.state = Word::fixed(1, 15);
    how.accumulator = Word::fixed(10, 29);
    channel.words->section_words = channel.words->tap_words = how;
    channel.words->sections = {{false, {0.5, -0.25, 1, -1.5, 0.75}}};
    channel.words->taps = {0.5, -2};
    channel.convention.feedback = FeedbackSign::added;
    channel.convention.order = {Term::a1, Term::a2, Term::b0, Term::b1, Term::b2};
    const auto indexed = hex_words_text(channel, true);
    ASSERT_TRUE(indexed);
    // Halved and times 2^15: 1.5 -> 0x6000, -0.75 -> 0xd000, 0.5 -> 0x2000 ...
    EXPECT_NE(indexed->find("\n1 0x6000 0xd000 0x2000 0xf000 0x4000\n"), std::string::npos)
        << *indexed;
    EXPECT_NE(indexed->find("\n0 0x2000\n1 0x8000\n"), std::string::npos);
    EXPECT_NE(indexed->find("# order: a1 a2 b0 b1 b2\n"), std::string::npos);
    EXPECT_NE(indexed->find("value = word times 2^-14"), std::string::npos);
    const auto plain = hex_words_text(channel, false);
    EXPECT_NE(plain->find("\n0x6000 0xd000"), std::string::npos);
    // -2 has no positive twin.
    channel.words->sections[0].values[3] = -2;
    EXPECT_TRUE(hex_words_text(channel, true).error().reason.find("other sign")
                != std::string::npos);
    channel.words.reset();
    EXPECT_FALSE(hex_words_text(channel, true));
}

TEST(WordTables, HoldWholeNumbersForC) {
    const test::Scratch scratch;
    const DeliveredChannel channel =
        channel_in_words(Structure::coupled_form, twenty_bits(Rounding::nearest, Overflow::wrap));
    CoefficientLayout layout;
    layout.format = FileFormat::c_header;
    const auto text = word_table_text(channel, layout, true);
    ASSERT_TRUE(text);
    scratch.write("words.h", *text);
    const double first = channel.words->sections[0].values[0];
    std::string upper = source_name(channel.set);
    for (char& c : upper) {
        c = static_cast<char>(std::toupper(c));
    }
    scratch.write("main.c",
                  fmt::format("#include \"words.h\"\nint main(void) {{ return {0}[0][0] == {1} && "
                              "{2}_SECTIONS == 4 && {2}_TAPS == 17 ? 0 : 1; }}\n",
                              source_name(channel.set), std::llround(std::ldexp(first, 17)),
                              upper));
    const std::string folder = scratch.folder().string();
    EXPECT_EQ(run_command("cc -std=c99 -pedantic -Wall -Wextra -Werror -Wno-unused -o " + folder
                          + "/main " + folder + "/main.c && " + folder + "/main"),
              0)
        << *text;
    layout.format = FileFormat::csv;
    EXPECT_NE(word_table_text(channel, layout, true)->find("section,d,c1,c2,g,p,q\n1,"),
              std::string::npos);
    layout.format = FileFormat::text;
    EXPECT_EQ(word_table_text(channel, layout, false)->find("section,"), std::string::npos);
}

} // namespace
} // namespace syntonon
