import { Spin } from "antd";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { useSession } from "../api/hooks";
import { Shell } from "../parts/Shell";
import { useLoaded } from "../parts/useLoaded";
import { FloorPage } from "./FloorPage";
import { SignInPage } from "./SignInPage";


const PAGES = {
  JobPage: () => import("./JobPage"),
  LabelsPage: () => import("./LabelsPage"),
  ShelfPage: () => import("./ShelfPage"),
  ShopPage: () => import("./ShopPage"),
  SumsPage: () => import("./SumsPage"),
  LookPage: () => import("./LookPage"),
};

function Page({ of }: { of: keyof typeof PAGES }) {
  const Shown = useLoaded<object>(PAGES[of]);
  return Shown ? <Shown /> : <Spin style={{ margin: "20vh auto", display: "block" }} />;
}

/** Which screen an address shows. */
export function Screens() {
  const session = useSession();
  const at = useLocation();
  if (session.isPending) return <Spin style={{ margin: "40vh auto", display: "block" }} />;
  if (!session.data?.signed_in) {
    return at.pathname === "/sign-in" ? <SignInPage sample={session.data?.sample ?? false} /> : <Navigate to="/sign-in" state={{ from: at.pathname }} replace />;
  }
  if (at.pathname === "/sign-in") return <Navigate to={(at.state as { from?: string } | null)?.from ?? "/floor"} replace />;
  return (
    <Shell session={session.data}>
              <Routes>
          <Route path="/floor" element={<FloorPage />} />
          <Route path="/jobs" element={<FloorPage all />} />
          <Route path="/jobs/:number/:stage" element={<Page of="JobPage" />} />
          <Route path="/jobs/:number/labels/:step" element={<Page of="LabelsPage" />} />
          <Route path="/shelf" element={<Page of="ShelfPage" />} />
          <Route path="/shelf/:kind" element={<Page of="ShelfPage" />} />
          <Route path="/sums" element={<Page of="SumsPage" />} />
          <Route path="/sums/:key" element={<Page of="SumsPage" />} />
          <Route path="/shop" element={<Page of="ShopPage" />} />
          <Route path="/shop/:part" element={<Page of="ShopPage" />} />
          <Route path="/look" element={<Page of="LookPage" />} />
          <Route path="/look/:id" element={<Page of="LookPage" />} />
          <Route path="*" element={<Navigate to="/floor" replace />} />
        </Routes>
    </Shell>
  );
}
