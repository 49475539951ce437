// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/curve_table.h"

#include "core/base/number_text.h"
#include "demo/brightwater.h"

#include <gtest/gtest.h>
#include <sstream>

namespace syntonon {
namespace {

std::vector<std::vector<std::string>> rows_of(const std::string& csv) {
    std::vector<std::vector<std::string>> rows;
    std::istringstream lines(csv);
    for (std::string line; std::getline(lines, line);) {
        std::vector<std::string> cells;
        std::istringstream parts(line + ",");
        for (std::string cell; std::getline(parts, cell, ',');) {
            cells.push_back(cell);
        }
        rows.push_back(cells);
    }
    return rows;
}

TEST(CurveTable, SaysWhatTheReadoutSays) {
    const Study study = brightwater_study();
    const Channel& zenith = *study.channels[0];
    AnalysisCache cache;
    const auto analysis = cache.analyse(study, zenith);
    const auto rows = rows_of(curve_table(study, zenith, *analysis));
    ASSERT_GT(rows.size(), 600u);
    EXPECT_EQ(rows[0][0], "frequency_hz");
    EXPECT_EQ(rows[0][8], "\"as built db\"");
    ASSERT_EQ(rows[0].size(), 10u);
    for (std::size_t i = 1; i < rows.size(); i += 97) {
        ASSERT_EQ(rows[i].size(), rows[0].size()) << i;
        const double hz = number_from_text(rows[i][0]).value();
        const ChannelPoint point = point_at(*analysis, hz);
        const auto expect = [&](std::size_t column, std::optional<double> value) {
            const auto cell = number_from_text(rows[i][column]);
            ASSERT_EQ(cell.has_value(), value.has_value()) << hz << " " << rows[0][column];
            if (value) {
                EXPECT_NEAR(*cell, *value, 1e-9) << hz << " " << rows[0][column];
            }
        };
        expect(1, point.measured_db);
        expect(2, point.predicted_db);
        expect(3, point.target_db);
        expect(5, point.chain.magnitude_db);
        expect(8, point.takes_db[0]);
        expect(9, point.takes_db[1]);
    }
}

} // namespace
} // namespace syntonon
