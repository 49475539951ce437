# Run at every build (cmake -P), so that it follows the commits: writes OUTPUT, a source file with
# VERSION and with what stands in SOURCE, when that has changed.
cmake_minimum_required(VERSION 3.25)
set(revision "sources that do not say which")
set(top "")
execute_process(COMMAND git -C ${SOURCE} rev-parse --show-toplevel
  OUTPUT_VARIABLE top ERROR_QUIET OUTPUT_STRIP_TRAILING_WHITESPACE)
if(top)
  file(REAL_PATH ${top} top)
  file(REAL_PATH ${SOURCE} source)
endif()
if(top AND top STREQUAL source)
  execute_process(COMMAND git -C ${SOURCE} log -1 --format=%H\ of\ %cs
    OUTPUT_VARIABLE revision OUTPUT_STRIP_TRAILING_WHITESPACE)
  execute_process(COMMAND git -C ${SOURCE} diff --quiet HEAD RESULT_VARIABLE has_changes)
  if(has_changes)
    string(APPEND revision " and changes since")
  endif()
else()
  # What "git archive" puts in place of the marks.
  file(STRINGS ${SOURCE}/cmake/archived_revision.txt archived LIMIT_COUNT 1)
  if(NOT archived MATCHES "Format")
    set(revision "${archived}")
  endif()
endif()
file(CONFIGURE OUTPUT ${OUTPUT} @ONLY CONTENT
"// Made by cmake/revision.cmake.
#include \"core/base/version.h\"

namespace syntonon {

std::string_view version() {
    return \"@VERSION@\";
}

std::string_view built_from() {
    return \"@revision@\";
}

} // namespace syntonon
")
