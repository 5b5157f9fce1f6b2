import { Link, useRouteError } from "react-router";
import { Notice } from "../ui/notice.tsx";
import { Page } from "../ui/layout.tsx";

/** An address that leads nowhere. */
export function UnknownPage() {
  return (
    <Page>
      <h1>There is nothing at this address</h1>
      <p>
        The link may be old or mistyped. All jobs are on the <Link to="/">board</Link>.
      </p>
    </Page>
  );
}

/** A screen that failed. What was recorded is safe in the log; what waits is in the browser's storage. */
export function BrokenPage() {
  const error = useRouteError();
  return (
    <Page>
      <h1>This screen failed</h1>
      <Notice tone="danger" role="alert">
        {error instanceof Error ? error.message : "An unexpected failure."} Nothing that was recorded is lost. Reload the page, or go back
        to the <a href="/">board</a>.
      </Notice>
    </Page>
  );
}
