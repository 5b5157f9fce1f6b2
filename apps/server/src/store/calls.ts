import { createJobStore } from "./job-store.ts";
import type { OpenStore } from "./open.ts";
import { createPracticeStore } from "./practice-store.ts";
import { createShelfStore } from "./shelf-store.ts";
import { createShopStore } from "./shop-store.ts";
import { createVehicleStore } from "./vehicle-store.ts";

/** All of the store that is called from other threads. */
export function callsOf(opened: OpenStore) {
  const jobs = createJobStore(opened);
  const shop = createShopStore(opened.db);
  const practice = createPracticeStore(opened);
  const shelf = createShelfStore(opened);
  const vehicles = createVehicleStore(opened);
  return {
    listJobs: jobs.list,
    earlierJobs: jobs.earlier,
    similarCases: jobs.similar,
    listDates: jobs.dates,
    readJobWithTruth: jobs.withTruth,
    readLog: jobs.log,
    readChained: jobs.chained,
    jobExists: jobs.exists,
    keepBench: jobs.keepBench,
    openJob: jobs.open,
    appendEvents: jobs.append,
    importLog: jobs.importLog,
    readShop: shop.read,
    keepShop: shop.keep,
    oldCustomers: jobs.oldCustomers,
    removeCustomers: jobs.removeCustomers,
    unreadable: jobs.unreadable,
    quarantine: jobs.quarantine,
    refresh: jobs.refresh,
    listVehicles: vehicles.list,
    vehicleVersions: vehicles.versions,
    readHarness: vehicles.read,
    addHarness: vehicles.add,
    listKnownGoods: shelf.list,
    putKnownGoods: shelf.put,
    withdrawKnownGood: shelf.withdraw,
    knownGoodUsers: shelf.users,
    keepPracticeResult: practice.keep,
    practiceResultsOf: practice.of,
    practiceResultsOfAll: practice.all,
    openPractice: practice.open,
    close: opened.close,
  } as const;
}
export type StoreCalls = ReturnType<typeof callsOf>;
