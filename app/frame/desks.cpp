#include "app/frame/desks.h"

#include "app/arrivals/arrivals_desk.h"
#include "app/frame/specimen_desk.h"
#include "app/guide/guide_desk.h"
#include "app/job/job_desk.h"
#include "app/kit/kit_page.h"
#include "app/laboratory/laboratory_desk.h"
#include "app/logbook/logbook_page.h"
#include "app/plan/plan_desk.h"
#include "app/practice/practice_desk.h"
#include "app/reference/reference_page.h"
#include "app/series/common_page.h"
#include "app/series/series_page.h"
#include "app/shared/shared_desk.h"
#include "app/slate/slate_desk.h"
#include "app/spectrum/spectrum_desk.h"
#include "app/today/jobs_page.h"
#include "app/today/today_page.h"

namespace fortitor {

std::vector<Desk*> make_desks(Workbench* bench, TimerBoard* timers, DayBoard* day) {
  return {new TodayPage(bench, timers, day),
          new JobsPage(bench),
          new SpecimenDesk(bench, timers),
          new CommonPage(bench),
          new SeriesPage(bench),
          new JobDesk(bench),
          new PlanDesk(bench, day),
          new KitPage(bench),
          new SpectrumDesk(bench),
          new SlateDesk(bench),
          new PracticeDesk(bench),
          new ReferencePage(bench),
          new LaboratoryDesk(bench),
          new LogbookPage(bench),
          new SharedDesk(bench),
          new GuideDesk(bench),
          new ArrivalsDesk(bench)};
}

}  // namespace fortitor
