// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/notes_text.h"

#include <gtest/gtest.h>

namespace syntonon {
namespace {

TEST(NotesText, NamesKeysInScientificPitchNotation) {
    EXPECT_EQ(key_text(69), "A4");
    EXPECT_EQ(key_text(60), "C4");
    EXPECT_EQ(key_text(61), "C#4");
    EXPECT_EQ(key_text(0), "C-1");
    EXPECT_EQ(key_text(60.5), "60.5");
}

TEST(NotesText, ComesBack) {
    const std::vector<Note> notes = {{0, 1.5, 45, 0.8}, {0.25, 2, 60.5, 1}, {0.1, 0.2, 127, 0.01}};
    EXPECT_EQ(notes_from_text(notes_text(notes)).value(), notes);
    EXPECT_TRUE(notes_from_text("  ")->empty());
}

TEST(NotesText, WhatIsNotSaidIsAsBefore) {
    const auto notes = notes_from_text("A2 0 1.5 0.6; E3; bb3 0.5\n72");
    ASSERT_TRUE(notes);
    ASSERT_EQ(notes->size(), 4u);
    EXPECT_EQ((*notes)[1], (Note{0, 1.5, 52, 0.6}));
    EXPECT_EQ((*notes)[2], (Note{0.5, 1.5, 58, 0.6}));
    EXPECT_EQ((*notes)[3].key, 72);
}

TEST(NotesText, NamesTheNoteThatIsNone) {
    for (const auto& [text, place] : {std::pair("A2; H3", "note 2"),
                                      {"A2 x", "note 1"},
                                      {"A2 1 0.5", "note 1"},
                                      {"A2 0 1 2", "note 1"},
                                      {"A2 0 1 1 1", "note 1"},
                                      {"C12", "note 1"},
                                      {"A4; 60 0 nan", "note 2"}}) {
        const auto notes = notes_from_text(text);
        ASSERT_FALSE(notes) << text;
        EXPECT_EQ(notes.error().place, place) << text;
        EXPECT_FALSE(notes.error().way_out.empty()) << text;
    }
}

TEST(NotesText, HasAnEnd) {
    std::string many;
    for (std::size_t i = 0; i <= most_notes; ++i) {
        many += "A2 0 1 1;";
    }
    const auto notes = notes_from_text(many);
    ASSERT_FALSE(notes);
    EXPECT_EQ(notes.error().place, "notes");
}

} // namespace
} // namespace syntonon
