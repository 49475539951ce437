// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/forbidden_memory.h"

#include <cstdlib>
#include <new>

namespace syntonon::test {

thread_local bool memory_is_forbidden = false;

} // namespace syntonon::test

namespace {

void* memory(std::size_t size) {
    if (syntonon::test::memory_is_forbidden) {
        std::abort();
    }
    if (void* found = std::malloc(size == 0 ? 1 : size)) {
        return found;
    }
    throw std::bad_alloc();
}

} // namespace

void* operator new(std::size_t size) {
    return memory(size);
}
void* operator new[](std::size_t size) {
    return memory(size);
}
void operator delete(void* place) noexcept {
    std::free(place);
}
void operator delete[](void* place) noexcept {
    std::free(place);
}
void operator delete(void* place, std::size_t) noexcept {
    std::free(place);
}
void operator delete[](void* place, std::size_t) noexcept {
    std::free(place);
}
