// The batch program as a shell runs it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/number_text.h"
#include "core/study/study_json.h"
#include "demo/brightwater.h"
#include "tests/support/places.h"
#include "tests/support/scratch.h"

#include <cstdlib>
#include <functional>
#include <gtest/gtest.h>
#include <sstream>
#include <string>
#include <sys/wait.h>
#include <vector>

namespace syntonon::test {

struct Call {
    int code = -1;
    std::string out, err;
};

class Batch : public testing::Test {
protected:
    void SetUp() override { ::setenv("XDG_STATE_HOME", scratch.file("state").c_str(), 1); }

    Call run(const std::string& arguments) const {
        const std::string out = scratch.file("out").string(), err = scratch.file("err").string();
        const int status =
            std::system((batch_program() + " " + arguments + " >" + out + " 2>" + err).c_str());
        return {WEXITSTATUS(status), bytes_of(out), bytes_of(err)};
    }
    // Rows of a CSV without its titles.
    static std::vector<std::vector<std::string>> rows(const std::string& csv) {
        std::vector<std::vector<std::string>> all;
        std::istringstream lines(csv);
        std::string line;
        std::getline(lines, line);
        while (std::getline(lines, line)) {
            std::vector<std::string> cells;
            std::istringstream parts(line);
            for (std::string cell; std::getline(parts, cell, ',');) {
                cells.push_back(cell);
            }
            all.push_back(cells);
        }
        return all;
    }
    static double number(const std::string& text) { return number_from_text(text).value(); }
    std::string write_study(const std::function<void(Study&)>& change) const {
        Study changed = brightwater_study();
        change(changed);
        const auto path = scratch.file("changed.syntonon");
        EXPECT_TRUE(save_study(changed, path));
        return path.string();
    }

    Scratch scratch;
    std::string study = demo_study();
};

} // namespace syntonon::test
