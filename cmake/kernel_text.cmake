# kernel_text(OUTPUT, HEADERS...): a source file with the text of headers, without their own
# includes, licences and guards, which the file that it is handed over in has itself.
function(kernel_text output)
  set(text "")
  foreach(header ${ARGN})
    set_property(DIRECTORY APPEND PROPERTY CMAKE_CONFIGURE_DEPENDS ${header})
    file(READ ${header} one)
    string(REGEX REPLACE "#include [^\n]*\n" "" one "${one}")
    string(REGEX REPLACE "// SPDX[^\n]*\n" "" one "${one}")
    string(REPLACE "#pragma once\n" "" one "${one}")
    string(REGEX REPLACE "\n\n\n+" "\n\n" one "${one}")
    string(APPEND text "// --- \n${one}\n")
  endforeach()
  # In pieces: compilers need not take longer literals.
  file(CONFIGURE OUTPUT ${output} @ONLY CONTENT
"// Made from core/filter/modelled by cmake/kernel_text.cmake.
#include \"core/exchange/kernel_text.h\"

namespace syntonon {

std::string_view kernel_text() {
    return R\"kernel(${text})kernel\";
}

} // namespace syntonon
")
endfunction()
