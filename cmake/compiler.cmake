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
  -Wno-restrict -Wno-maybe-uninitialized -Wno-stringop-overflow)

# syntonon_merged(NAME): several of its files go through the compiler as one where SYNTONON_UNITY
# says so. What files have in anonymous namespaces must then be named differently within the target.
function(syntonon_merged name)
  if(SYNTONON_UNITY)
    set_target_properties(${name} PROPERTIES UNITY_BUILD ON UNITY_BUILD_BATCH_SIZE 6)
  endif()
endfunction()

# syntonon_target(NAME): this project's own code; warnings are errors, third-party headers are not
# judged.
function(syntonon_target name)
  target_compile_options(${name} PRIVATE
    -Wall -Wextra -Wpedantic -Wshadow -Wnon-virtual-dtor -Wold-style-cast -Woverloaded-virtual
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
