# syntonon_target(NAME): this project's own code; warnings are errors, third-party headers are not judged.
function(syntonon_target name)
  target_compile_options(${name} PRIVATE
    -Wall -Wextra -Wpedantic -Wshadow -Wnon-virtual-dtor -Wold-style-cast -Woverloaded-virtual
    -Wcast-align -Wunused -Wduplicated-cond -Wlogical-op -Wnull-dereference -Wformat=2
    # GCC 12 reports these inside its own std::string and std::variant when it inlines them.
    -Wno-restrict -Wno-maybe-uninitialized -Wno-null-dereference)
  if(SYNTONON_WERROR)
    target_compile_options(${name} PRIVATE -Werror)
  endif()
  if(SYNTONON_SANITIZE)
    target_compile_options(${name} PRIVATE -fsanitize=address,undefined -fno-omit-frame-pointer)
    target_link_options(${name} PRIVATE -fsanitize=address,undefined)
  endif()
endfunction()
