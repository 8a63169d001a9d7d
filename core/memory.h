// How the programs hold their memory.
#pragma once

#include <malloc.h>

namespace fortitor {

/// To be called once by main(). The vectors of a run come and go with every evaluation: given back to the system each
/// time (as the allocator does by itself from a few megabytes on) they cost a fifth of it in page faults. Up to 256 MB
/// that were in use once stay with the program.
inline void keep_memory() {
#ifdef __GLIBC__
  mallopt(M_MMAP_THRESHOLD, 32 << 20);  // the most that is taken
  mallopt(M_TRIM_THRESHOLD, 256 << 20);
  mallopt(M_ARENA_MAX, 2);  // one for the window, one for what is computed beside it: more only keep more of their own
#endif
}

/// Gives back what is free. A program that stays open for days calls it now and then: small pieces that live on among
/// large ones that went would hold more of the machine with every hour.
inline void give_back_memory() {
#ifdef __GLIBC__
  malloc_trim(0);
#endif
}

}  // namespace fortitor
