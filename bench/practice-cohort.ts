import { nextFor } from "../apps/server/src/demo/learning.ts";
import type { PracticeResult } from "@rheonom/contract/practice";
import { chanceOf, FAMILIES, SKILL_IDS, SKILLS_OF, type Family, type Skill } from "@rheonom/core/practice";

/**
 * A simulated cohort that learns by practice, once by the scheduler's choice and once in random order: scenarios until the tests of a mean scenario have halved. The model is stated
 * here: of every skill a technician has a share, even chance from 0 to 0.5 to begin with; a scenario takes the plan's tests times 1 + slow (1 − share of its skills); its main skill then
 * gains `learns` of what is missing, its others a quarter of that; every day each share that was not practised loses `forgets` of itself. One scenario a day. The scheduler's constants
 * were chosen in the first of these worlds; the others nobody looked at before.
 */
interface World {
  readonly name: string;
  readonly slow: number;
  readonly learns: number;
  readonly forgets: number;
}
const WORLDS: readonly World[] = [
  { name: "chosen in", slow: 3, learns: 0.4, forgets: 0.01 },
  { name: "forgets twice as fast", slow: 3, learns: 0.4, forgets: 0.02 },
  { name: "learns slowly", slow: 3, learns: 0.25, forgets: 0.005 },
  { name: "beginners are quicker", slow: 1.5, learns: 0.4, forgets: 0.01 },
];
const TECHNICIANS = 200;
const MOST_DAYS = 200;
const PLAN_TESTS = 5;
const DAY_MS = 86_400_000;
const START = Date.parse("2026-01-05T08:00:00Z");

type Shares = Map<Skill, number>;
const testsFor = ({ slow }: World, shares: Shares, family: Family): number => {
  const own = SKILLS_OF[family].map((s) => shares.get(s)!);
  return PLAN_TESTS * (1 + slow * (1 - own.reduce((sum, x) => sum + x, 0) / own.length));
};
const meanTests = (world: World, shares: Shares): number =>
  FAMILIES.reduce((sum, f) => sum + testsFor(world, shares, f), 0) / FAMILIES.length;

/** Days until the tests of a mean scenario have halved, at most so many; and what is left of them after sixty. */
function daysToHalf(
  world: World,
  seed: number,
  choose: (results: readonly PracticeResult[], now: Date, chance: () => number) => Family,
): { readonly days: number; readonly shareAfter60: number } {
  const chance = chanceOf(seed);
  const shares: Shares = new Map(SKILL_IDS.map((s) => [s, 0.5 * chance()]));
  const begun = meanTests(world, shares);
  let days = MOST_DAYS;
  let shareAfter60 = 1;
  const results: PracticeResult[] = [];
  for (let day = 0; day < MOST_DAYS; day++) {
    const share = meanTests(world, shares) / begun;
    if (share <= 0.5 && days === MOST_DAYS) days = day;
    if (day === 60) shareAfter60 = share;
    if (days < MOST_DAYS && day > 60) break;
    const now = new Date(START + day * DAY_MS);
    const family = choose(results, now, chance);
    const grade = PLAN_TESTS / testsFor(world, shares, family);
    const [main, ...others] = SKILLS_OF[family];
    results.push({
      jobId: String(day),
      by: "cohort",
      at: now.toISOString(),
      vehicle: "",
      family,
      difficulty: 0,
      isFound: true,
      score: Math.round(100 * grade),
      grade,
      tests: Math.round(testsFor(world, shares, family)),
      minutes: 0,
      marks: { [main!]: grade },
    });
    for (const [s, share] of shares) {
      const gain = s === main ? world.learns : others.includes(s) ? world.learns / 4 : undefined;
      shares.set(s, gain === undefined ? share * (1 - world.forgets) : share + gain * (1 - share));
    }
  }
  return { days, shareAfter60 };
}

const ways = {
  scheduler: (results: readonly PracticeResult[], now: Date): Family => nextFor(results, now).family!,
  random: (_: readonly PracticeResult[], __: Date, chance: () => number): Family => FAMILIES[Math.floor(chance() * FAMILIES.length)]!,
};
console.log(
  "| world | order | scenarios to half of the tests: median | 10 % | 90 % | tests left after 60, % |\n| --- | --- | --- | --- | --- | --- |",
);
for (const world of WORLDS)
  for (const [name, choose] of Object.entries(ways)) {
    const all = Array.from({ length: TECHNICIANS }, (_, i) => daysToHalf(world, i + 1, choose));
    const days = all.map((t) => t.days).sort((p, q) => p - q);
    const left = all.reduce((sum, t) => sum + t.shareAfter60, 0) / all.length;
    const at = (share: number): string => {
      const day = days[Math.floor(share * (days.length - 1))]!;
      return day === MOST_DAYS ? `${MOST_DAYS} or more` : String(day);
    };
    console.log(`| ${world.name} | ${name} | ${at(0.5)} | ${at(0.1)} | ${at(0.9)} | ${(100 * left).toFixed(0)} |`);
  }
