// What the batch program says about itself: ids, version, help; and what man pages and completion
// say about it.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/version.h"
#include "tests/batch/batch_fixture.h"

#include <algorithm>
#include <regex>

namespace syntonon {
namespace {

using test::Batch;
using test::Call;

class Shell : public Batch {
protected:
    std::vector<std::string> found(const std::string& text, const std::string& pattern) const {
        std::vector<std::string> all;
        const std::regex each(pattern);
        for (std::sregex_iterator at(text.begin(), text.end(), each), end; at != end; ++at) {
            all.push_back((*at)[1]);
        }
        return all;
    }
    std::vector<std::string> commands() const {
        const std::string help = run("--help").out;
        return found(help.substr(help.find("Subcommands:")), "\n  ([a-z]+) ");
    }
    std::vector<std::string> options_of(const std::string& command) const {
        return found(run(command + " --help").out, "\n  (?:-h,)?(--[a-z-]+)");
    }
    // A section of the manual page as it is read, without the marks of its language.
    static std::string man_section(const std::string& command) {
        std::string page = test::bytes_of(test::source_folder() + "/docs/man/syntonon-batch.1");
        page = std::regex_replace(page, std::regex(R"(\\-)"), "-");
        const std::string head = ".SS \"" + command;
        const auto begins = std::min(page.find(head + " "), page.find(head + "\""));
        if (begins == std::string::npos) {
            return "";
        }
        const auto ends = page.find("\n.S", begins);
        return page.substr(begins, ends - begins);
    }
    // What bash offers for the last of the words.
    std::vector<std::string> completed(const std::vector<std::string>& words) const {
        const std::string script = scratch.file("complete.sh").string();
        std::string text = "source '" + test::source_folder() + "/packaging/completion.bash"
                           + "'\nCOMP_WORDS=('" + test::batch_program() + "'";
        for (const std::string& word : words) {
            text += " '" + word + "'";
        }
        text += ")\nCOMP_CWORD=" + std::to_string(words.size())
                + "\n_syntonon\nprintf '%s\\n' \"${COMPREPLY[@]}\"\n";
        scratch.write("complete.sh", text);
        const std::string out = scratch.file("completed").string();
        EXPECT_EQ(std::system(("bash " + script + " > " + out).c_str()), 0);
        std::vector<std::string> lines;
        std::istringstream all(test::bytes_of(out));
        for (std::string line; std::getline(all, line);) {
            lines.push_back(line);
        }
        std::ranges::sort(lines);
        return lines;
    }
};

TEST_F(Shell, VersionSaysWhatItWasBuiltFrom) {
    const Call r = run("--version");
    EXPECT_EQ(r.code, 0);
    EXPECT_EQ(r.out, version_text("syntonon-batch") + "\n");
    EXPECT_TRUE(std::regex_search(
        r.out, std::regex("^syntonon-batch \\d+\\.\\d+\\.\\d+(-rc\\d+)?, built from .+")))
        << r.out;
}

TEST_F(Shell, ListsIdsThatOtherCommandsTake) {
    const Call r = run("list " + study);
    EXPECT_EQ(r.code, 0) << r.err;
    EXPECT_TRUE(r.out.starts_with("part,of,id,name\n"));
    std::size_t channels = 0, stages = 0;
    for (const auto& row : rows(r.out)) {
        if (row[0] == "channel") {
            ++channels;
            EXPECT_EQ(run("roots " + study + " --channel " + row[2]).err.find("there is no"),
                      std::string::npos);
        } else if (row[0] == "stage") {
            ++stages;
            EXPECT_NE(channel_of(brightwater_study(), row[1]), nullptr) << row[1];
        }
    }
    EXPECT_EQ(channels, brightwater_study().channels.size());
    EXPECT_GT(stages, channels);
}

TEST_F(Shell, ListedNamesStayInTheirCells) {
    const std::string odd =
        write_study([](Study& s) { s.channels[0].edit().name = "left, \"high\""; });
    EXPECT_NE(run("list " + odd).out.find("channel,,zenith,\"left, \"\"high\"\"\"\n"),
              std::string::npos);
}

TEST_F(Shell, ManualPageHasEveryCommandAndOption) {
    const auto all = commands();
    ASSERT_GT(all.size(), 15u);
    for (const std::string& command : all) {
        const std::string section = man_section(command);
        EXPECT_FALSE(section.empty()) << command;
        for (const std::string& option : options_of(command)) {
            EXPECT_TRUE(option == "--help" || section.find(option) != std::string::npos)
                << command << " " << option;
        }
    }
}

TEST_F(Shell, CompletionOffersCommandsOptionsAndIds) {
    auto all = commands();
    std::ranges::sort(all);
    EXPECT_EQ(completed({""}), all);
    EXPECT_EQ(completed({"resp"}), std::vector<std::string>{"respond"});
    EXPECT_EQ(completed({"judge", study, "--ju"}), std::vector<std::string>{"--junit"});
    EXPECT_EQ(completed({"roots", study, "--channel", "z"}), std::vector<std::string>{"zenith"});
    EXPECT_EQ(completed({"--log-level", "w"}), std::vector<std::string>{"warning"});
    EXPECT_EQ(completed({"--log-level", "warning", "proces"}),
              (std::vector<std::string>{"process", "processors"}));
    const auto files = completed({"check", study.substr(0, study.find_last_of('/') + 1)});
    EXPECT_TRUE(std::ranges::find(files, study) != files.end());
}

} // namespace
} // namespace syntonon
