// How the programs hold their memory.
#pragma once

#include <malloc.h>

namespace fortitor {

/// To be called once by main(). The vectors of a run come and go with every evaluation: given back to the system each time
/// (as the allocator does by itself from a few megabytes on) they cost a fifth of it in page faults. Up to 256 MB that were
/// in use once stay with the program.
inline void keep_memory() {
#ifdef __GLIBC__
  mallopt(M_MMAP_THRESHOLD, 32 << 20);  // the most that is taken
  mallopt(M_TRIM_THRESHOLD, 256 << 20);
#endif
}

}  // namespace fortitor
