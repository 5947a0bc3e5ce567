import { Spin } from "antd";
import { lazy, Suspense } from "react";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { useSession } from "../api/hooks";
import { Shell } from "../parts/Shell";
import { FloorPage } from "./FloorPage";
import { SignInPage } from "./SignInPage";

const JobPage = lazy(() => import("./JobPage"));
const LabelsPage = lazy(() => import("./LabelsPage"));
const ShelfPage = lazy(() => import("./ShelfPage"));
const ShopPage = lazy(() => import("./ShopPage"));
const SumsPage = lazy(() => import("./SumsPage"));
const LookPage = lazy(() => import("./LookPage"));

/** Which screen an address shows. */
export function Screens() {
  const session = useSession();
  const at = useLocation();
  if (session.isPending) return <Spin style={{ margin: "40vh auto", display: "block" }} />;
  if (!session.data?.signed_in) {
    return at.pathname === "/sign-in" ? <SignInPage sample={session.data?.sample ?? false} /> : <Navigate to="/sign-in" state={{ from: at.pathname }} replace />;
  }
  return (
    <Shell session={session.data}>
      <Suspense fallback={<Spin style={{ margin: "20vh auto", display: "block" }} />}>
        <Routes>
          <Route path="/floor" element={<FloorPage />} />
          <Route path="/jobs" element={<FloorPage all />} />
          <Route path="/jobs/:number/:stage" element={<JobPage />} />
          <Route path="/jobs/:number/labels/:step" element={<LabelsPage />} />
          <Route path="/shelf" element={<ShelfPage />} />
          <Route path="/shelf/:kind" element={<ShelfPage />} />
          <Route path="/sums" element={<SumsPage />} />
          <Route path="/sums/:key" element={<SumsPage />} />
          <Route path="/shop" element={<ShopPage />} />
          <Route path="/shop/:part" element={<ShopPage />} />
          <Route path="/look" element={<LookPage />} />
          <Route path="/look/:id" element={<LookPage />} />
          <Route path="*" element={<Navigate to="/floor" replace />} />
        </Routes>
      </Suspense>
    </Shell>
  );
}
