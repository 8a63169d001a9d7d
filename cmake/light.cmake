# Compiled lightly: inlined, and hardly looked at again. Where words are many and sums are few, an optimizer's rounds over
# what is left (aliases, dominators, dead stores, moves out of loops) take a fifth of a build and give little.
set(FORTITOR_LIGHT_OPTIONS -Og)
if(CMAKE_CXX_COMPILER_ID STREQUAL "GNU")
  list(APPEND FORTITOR_LIGHT_OPTIONS -fno-tree-pta -fno-tree-dominator-opts -fno-tree-sra -fno-tree-fre -fno-tree-dse
    -fno-tree-ch -fno-tree-sink -fno-ssa-phiopt -fno-dse -fno-dce -fno-forward-propagate -fno-if-conversion
    -fno-if-conversion2 -fno-move-loop-invariants -fno-cprop-registers -fno-shrink-wrap -fno-ipa-modref
    -fno-ipa-pure-const -fno-ipa-reference -fno-guess-branch-probability)
endif()
function(compile_lightly target)
  foreach(option ${FORTITOR_LIGHT_OPTIONS})
    target_compile_options(${target} PRIVATE $<$<CONFIG:Release>:${option}>)
  endforeach()
endfunction()
