# What a template makes stands in every object that uses it, and a program keeps the first that its linker meets. Here
# these are the given libraries' (in their order), whole and before the program's own objects: sums stay as fast as they
# were compiled, and under sanitizers as well looked at, beside tests and windows that are compiled lightly. Without it a
# vector of the core grew by the tests' -O0 copy, four times as slow, and no sanitizer saw it.
function(link_first target)
  list(TRANSFORM ARGN REPLACE "(.+)" "$<TARGET_FILE:\\1>" OUTPUT_VARIABLE archives)
  list(JOIN archives "," archives)
  target_link_options(${target} PRIVATE "LINKER:--whole-archive,${archives},--no-whole-archive")
endfunction()
