// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/json.h"

#include <nlohmann/json.hpp>

namespace syntonon::test {
namespace {

using Node = nlohmann::ordered_json;
using Pointer = Node::json_pointer;

} // namespace

std::string json_at(const std::string& text, const std::string& pointer) {
    const Node json = Node::parse(text);
    return json.contains(Pointer(pointer)) ? json.at(Pointer(pointer)).dump() : "absent";
}

std::size_t json_size(const std::string& text, const std::string& pointer) {
    return Node::parse(text).at(Pointer(pointer)).size();
}

std::string json_with(const std::string& text, const std::string& pointer,
                      const std::string& value) {
    Node json = Node::parse(text);
    json[Pointer(pointer)] = Node::parse(value);
    return json.dump();
}

std::vector<std::string> json_leaves(const std::string& text) {
    std::vector<std::string> pointers;
    const Node flat = Node::parse(text).flatten();
    for (const auto& [pointer, value] : flat.items()) {
        pointers.push_back(pointer);
    }
    return pointers;
}

} // namespace syntonon::test
