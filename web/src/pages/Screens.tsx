import { useEffect } from "react";
import { Navigate, useLocation } from "react-router";
import { useSession } from "../api/session";
import { preload, useLoaded } from "../parts/frame/useLoaded";
import { FirstShopPage } from "./FirstShopPage";
import { SignInPage } from "./SignInPage";

const inside = () => import("./Inside");
const Wait = () => <div className="wait" role="status" aria-label="Loading" />;

/** The sign-in, or all that lies behind it: fetched while the name is typed. */
export function Screens() {
  const session = useSession();
  const at = useLocation();
  const signedIn = session.data?.signed_in ?? false;
  const Inside = useLoaded<object>(signedIn ? inside : undefined);
  useEffect(() => {
    const idle = setTimeout(() => preload(inside).catch(() => undefined), 300);
    return () => clearTimeout(idle);
  }, []);
  if (session.isPending) return <Wait />;
  if (!signedIn)
    return at.pathname === "/sign-in" ? (
      session.data?.fresh ? (
        <FirstShopPage />
      ) : (
        <SignInPage sample={session.data?.sample ?? false} />
      )
    ) : (
      <Navigate to="/sign-in" state={{ from: at.pathname + at.search }} replace />
    );
  if (at.pathname === "/sign-in")
    return <Navigate to={(at.state as { from?: string } | null)?.from ?? "/floor"} replace />;
  return Inside ? <Inside /> : <Wait />;
}
