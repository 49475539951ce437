# How this project's own code is compiled.

# One compiler cache serves checkouts in all folders: paths below the source folder are seen from
# there, and the folder is no part of what is compared. Precompiled headers need the rest.
find_program(SYNTONON_CCACHE ccache)
if(SYNTONON_CCACHE AND NOT CMAKE_CXX_COMPILER_LAUNCHER)
  set(CMAKE_CXX_COMPILER_LAUNCHER ${CMAKE_COMMAND} -E env
    CCACHE_BASEDIR=${PROJECT_SOURCE_DIR} CCACHE_NOHASHDIR=1
    CCACHE_SLOPPINESS=pch_defines,time_macros,include_file_mtime,include_file_ctime
    ${SYNTONON_CCACHE})
endif()

set(gcc_warnings -Wduplicated-cond -Wlogical-op
  # GCC 12 reports these inside its own std::string and std::variant when it inlines them.
  -Wno-restrict -Wno-maybe-uninitialized -Wno-stringop-overflow -Wno-stringop-overread
  -Wno-array-bounds)

# syntonon_merged(NAME): several of its files go through the compiler as one where SYNTONON_UNITY
# says so. What files have in anonymous namespaces must then be named differently within the target.
# CMake's own way to do this writes paths of the build folder into the files, for which a compiler
# cache cannot serve other checkouts.
function(syntonon_merged name)
  if(NOT SYNTONON_UNITY)
    return()
  endif()
  set(at_once 14)
  get_target_property(sources ${name} SOURCES)
  list(FILTER sources INCLUDE REGEX "[.]cpp$")
  list(SORT sources)
  set_source_files_properties(${sources} PROPERTIES HEADER_FILE_ONLY ON)
  set(number 0)
  while(sources)
    list(LENGTH sources left)
    set(taken ${at_once})
    if(left LESS at_once)
      set(taken ${left})
    endif()
    set(lines "")
    foreach(index RANGE 1 ${taken})
      list(POP_FRONT sources source)
      cmake_path(RELATIVE_PATH source BASE_DIRECTORY ${PROJECT_SOURCE_DIR})
      string(APPEND lines "#include \"${source}\"\n")
    endforeach()
    set(merged ${CMAKE_CURRENT_BINARY_DIR}/${name}_${number}.cpp)
    file(CONFIGURE OUTPUT ${merged} CONTENT "${lines}" @ONLY) # written only when it changes
    target_sources(${name} PRIVATE ${merged})
    math(EXPR number "${number} + 1")
  endwhile()
endfunction()

# syntonon_target(NAME): this project's own code; warnings are errors, third-party headers are not
# judged.
function(syntonon_target name)
  # What another file has at its top is no shadow of a local name.
  set(shadow -Wshadow)
  if(SYNTONON_UNITY AND CMAKE_CXX_COMPILER_ID STREQUAL GNU)
    set(shadow -Wshadow=local)
  endif()
  target_compile_options(${name} PRIVATE
    -Wall -Wextra -Wpedantic ${shadow} -Wnon-virtual-dtor -Wold-style-cast -Woverloaded-virtual
    -Wcast-align -Wunused -Wformat=2 "$<$<CXX_COMPILER_ID:GNU>:${gcc_warnings}>")
  if(CMAKE_CXX_COMPILER_ID STREQUAL GNU)
    target_compile_options(${name} PRIVATE -fpch-preprocess) # ccache asks for it
  endif()
  if(SYNTONON_WERROR)
    target_compile_options(${name} PRIVATE -Werror)
  endif()
  if(SYNTONON_SANITIZE)
    target_compile_options(${name} PRIVATE -fsanitize=${SYNTONON_SANITIZE} -fno-omit-frame-pointer)
    target_link_options(${name} PRIVATE -fsanitize=${SYNTONON_SANITIZE})
  endif()
endfunction()

# syntonon_optimised_first(NAME): of what several files define inline the linker takes the first
# that it meets. In check builds only the core is optimised: without this it would run with the
# window's and the tests' unoptimised vectors, at half its speed.
function(syntonon_optimised_first name)
  if(CMAKE_BUILD_TYPE STREQUAL Check)
    target_link_options(${name} PRIVATE
      "LINKER:--whole-archive" $<TARGET_FILE:syntonon_core> "LINKER:--no-whole-archive")
  endif()
endfunction()
