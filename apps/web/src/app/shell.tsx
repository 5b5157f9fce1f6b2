import { useEffect, useState } from "react";
import { Link, NavLink, Outlet, useLocation, useNavigate } from "react-router";
import { CircleHelp, CloudOff, MoonStar, Search, Sun, UserRound } from "lucide-react";
import { styled } from "styled-components";
import { useHealthQuery } from "../api/api.ts";
import { Button } from "../ui/button.tsx";
import { Hidden, ScreenOnly } from "../ui/layout.tsx";
import { Notice } from "../ui/notice.tsx";
import { JOB_BAR, JobSteps } from "../job/job-steps.tsx";
import { useShortcuts } from "../job/shortcuts.ts";
import type * as Overlays from "./overlays.ts";
import { themeChanged } from "../job/session.ts";
import { useAppDispatch, useAppSelector } from "../job/store.ts";

const Bar = styled.header`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0 var(--s2);
  padding: 4px var(--s3);
  background: var(--surface);
  border-bottom: 1px solid var(--line);
  @media (max-width: 960px) {
    gap: 0;
    padding: 4px;
    button {
      padding: 0 var(--s1);
    }
  }
  @media print {
    display: none;
  }
`;
const Home = styled(Link)`
  display: inline-flex;
  align-items: center;
  gap: var(--s2);
  min-height: var(--target);
  padding: 0 var(--s2);
  font-weight: 720;
  color: var(--ink);
  text-decoration: none;
`;
const Place = styled(NavLink)`
  display: inline-flex;
  align-items: center;
  min-height: var(--target);
  padding: 0 var(--s3);
  color: var(--ink);
  text-decoration: none;
  border-bottom: 4px solid transparent;
  &.active {
    border-bottom-color: var(--accent);
    font-weight: 640;
  }
`;
const Spread = styled.div`
  flex: 1;
  min-width: 0;
  display: flex;
  align-items: center;
  justify-content: flex-end;
  gap: var(--s2);
`;
const Frame = styled.div`
  min-height: 100dvh;
  display: flex;
  flex-direction: column;
`;
const Silent = styled.span`
  display: inline-flex;
  align-items: center;
  gap: var(--s1);
  color: var(--danger);
  font-weight: 640;
`;
const Told = styled(ScreenOnly)`
  display: flex;
  flex-direction: column;
  gap: var(--s2);
  padding: var(--s2) var(--s3) 0;
`;
const Skip = styled.a`
  position: absolute;
  left: -9999px;
  &:focus {
    position: static;
    padding: var(--s2);
  }
`;

/** The theme in force, and a way to change it. */
function useTheme(): readonly ["light" | "dark", () => void] {
  const wish = useAppSelector((s) => s.session.theme);
  const dispatch = useAppDispatch();
  const [system, setSystem] = useState(() => window.matchMedia("(prefers-color-scheme: dark)").matches);
  useEffect(() => {
    const query = window.matchMedia("(prefers-color-scheme: dark)");
    const follow = (): void => setSystem(query.matches);
    query.addEventListener("change", follow);
    return () => query.removeEventListener("change", follow);
  }, []);
  const theme = wish === "system" ? (system ? "dark" : "light") : wish;
  useEffect(() => {
    document.documentElement.dataset.theme = theme;
  }, [theme]);
  return [theme, () => dispatch(themeChanged(theme === "dark" ? "light" : "dark"))];
}

/** Asks before a page is left that holds what no other place does. */
function useLeaveGuard(on: boolean): void {
  useEffect(() => {
    if (!on) return;
    const ask = (event: BeforeUnloadEvent): void => event.preventDefault();
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, [on]);
}

/** Overlays are fetched so long after the first screen was drawn, ms. */
const OVERLAYS_MS = 300;

/** Help, palette, name and messages: fetched after the first screen was drawn, at once when one is wanted, and again when that failed and one is wanted once more. */
function useOverlays(isWanted: boolean): typeof Overlays | undefined {
  const [overlays, setOverlays] = useState<typeof Overlays>();
  useEffect(() => {
    if (overlays !== undefined) return;
    const timer = setTimeout(() => void import("./overlays.ts").then(setOverlays, () => undefined), isWanted ? 0 : OVERLAYS_MS);
    return () => clearTimeout(timer);
  }, [overlays, isWanted]);
  return overlays;
}

const HEALTH_MS = 15_000;

/** What everybody who uses this server must know: who else can, and whether it takes entries. */
function ServerNotices() {
  const { data } = useHealthQuery(undefined, { pollingInterval: HEALTH_MS, skipPollingIfUnfocused: true });
  if (data === undefined || (!data.openToNetwork && data.data.mode === "writable")) return null;
  return (
    <Told>
      {data.openToNetwork ? (
        <Notice tone="caution" role="status">
          Open to everyone on this network: anyone on it can read and change every job, and work connected vehicles.
        </Notice>
      ) : null}
      {data.data.mode === "writable" ? null : (
        <Notice
          tone="danger"
          role="status"
          title={data.data.mode === "opening" ? "The shop’s data is being opened" : "The shop’s data can only be looked at"}
        >
          {data.data.why}{" "}
          {data.data.mode === "read-only" ? "What you enter stays on this device and is sent when entries are taken again." : ""}
        </Notice>
      )}
    </Told>
  );
}

type Overlay = "help" | "palette" | "person";

/** Takes what is typed between the palette's key and its coming. */
function TypedMeanwhile({ text, onType }: { text: string; onType: (text: string) => void }) {
  return (
    <Hidden>
      <input
        ref={(input) => input?.focus()}
        aria-label="Find a command, a screen or a job"
        value={text}
        onChange={(e) => onType(e.target.value)}
      />
    </Hidden>
  );
}

/** Frame of every page: the bar with the job's steps, dialogs that open anywhere, messages. */
export function Shell() {
  const [theme, flipTheme] = useTheme();
  const [open, setOpen] = useState<Overlay | undefined>(undefined);
  const [typed, setTyped] = useState("");
  const overlays = useOverlays(open !== undefined);
  const close = (): void => {
    setOpen(undefined);
    setTyped("");
  };
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const jobId = /^\/jobs\/([0-9a-f-]{36})/.exec(pathname)?.[1];
  const person = useAppSelector((s) => s.session.person);
  const waiting = useAppSelector((s) => s.outbox.waiting.length);
  const server = useAppSelector((s) => s.outbox.server.kind);
  const unkept = useAppSelector((s) => s.outbox.unkept.length);
  useLeaveGuard(unkept > 0);
  useShortcuts({
    help: () => setOpen("help"),
    palette: () => setOpen("palette"),
    board: () => void navigate("/"),
    vehicles: () => void navigate("/vehicles"),
    theme: flipTheme,
  });
  return (
    <Frame>
      <Skip href="#content">Skip to the screen</Skip>
      <Bar>
        <Home to="/" aria-label="Rheonom, board">
          <img src="/mark.svg" width={26} height={26} alt="" />
          {jobId === undefined ? "Rheonom" : "Board"}
        </Home>
        {jobId === undefined ? null : <JobSteps jobId={jobId} />}
        {jobId === undefined ? (
          <>
            <Place to="/planner">Planner</Place>
            <Place to="/vehicles">Vehicles</Place>
            <Place to="/plug">Unknown connector</Place>
            <Place to="/practice">Practice</Place>
            <Place to="/shop">Shop</Place>
          </>
        ) : null}
        <Spread id={JOB_BAR} />
        {server !== "answers" || unkept > 0 ? (
          <Silent role="status">
            <CloudOff size={18} aria-hidden /> {waiting} not sent
          </Silent>
        ) : null}
        <Button look="quiet" onPress={() => setOpen("palette")} aria-label="Find a command (Ctrl K)">
          <Search size={18} aria-hidden />
        </Button>
        <Button
          look="quiet"
          onPress={() => setOpen("person")}
          aria-label={person === "" ? "Say who is working" : `Working: ${person}. Change`}
        >
          <UserRound size={18} aria-hidden /> {person === "" ? "Who?" : (person.split(" ")[0] ?? person)}
        </Button>
        <Button look="quiet" onPress={flipTheme} aria-label={theme === "dark" ? "Light theme" : "Dark theme"}>
          {theme === "dark" ? <Sun size={18} aria-hidden /> : <MoonStar size={18} aria-hidden />}
        </Button>
        <Button look="quiet" onPress={() => setOpen("help")} aria-label="Keys and help">
          <CircleHelp size={18} aria-hidden />
        </Button>
      </Bar>
      <ServerNotices />
      <div id="content" style={{ flex: 1, display: "flex", flexDirection: "column", minHeight: 0 }}>
        <Outlet />
      </div>
      <ScreenOnly>
        {overlays === undefined ? (
          open === "palette" && <TypedMeanwhile text={typed} onType={setTyped} />
        ) : (
          <>
            <overlays.HelpDialog isOpen={open === "help"} onClose={close} />
            <overlays.Palette isOpen={open === "palette"} typed={typed} onClose={close} jobId={jobId} flipTheme={flipTheme} />
            <overlays.PersonDialog isOpen={open === "person"} onClose={close} />
            <overlays.Toasts />
          </>
        )}
      </ScreenOnly>
    </Frame>
  );
}
