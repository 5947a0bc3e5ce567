import { Alert, Button } from "antd";
import type { ReactNode } from "react";
import { ErrorBoundary } from "react-error-boundary";

/** A part of a screen that may break without taking the rest with it: ledger, timers and the other slats go on. */
export function Guarded({ of, what, children }: { of: unknown[]; what: string; children: ReactNode }) {
  return (
    <ErrorBoundary
      resetKeys={of}
      fallbackRender={({ error, resetErrorBoundary }) => (
        <Alert
          type="error"
          className="unread"
          title={`${what} could not be drawn. Nothing that was entered is lost.`}
          description={error instanceof Error ? error.message : String(error)}
          action={<Button onClick={resetErrorBoundary}>Draw it again</Button>}
        />
      )}
    >
      {children}
    </ErrorBoundary>
  );
}
