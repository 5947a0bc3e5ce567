import { Spin } from "antd";
import { Navigate, Route, Routes } from "react-router";
import { useSession } from "../api/session";
import { Shell } from "../parts/frame/Shell";
import { useLoaded } from "../parts/frame/useLoaded";
import { Parts } from "../theme/Parts";
import { FloorPage } from "./FloorPage";

const PAGES = {
  JobPage: () => import("./JobPage"),
  LabelsPage: () => import("./LabelsPage"),
  CardPage: () => import("./CardPage"),
  ShelfPage: () => import("./ShelfPage"),
  ShopPage: () => import("./ShopPage"),
  SumsPage: () => import("./SumsPage"),
  LookPage: () => import("./LookPage"),
  GuidePage: () => import("./GuidePage"),
};

function Page({ of }: { of: keyof typeof PAGES }) {
  const Shown = useLoaded<object>(PAGES[of]);
  return Shown ? <Shown /> : <Spin style={{ margin: "20vh auto", display: "block" }} />;
}

/** Everything behind the sign-in, by its address. */
export default function Inside() {
  const session = useSession().data;
  if (!session) return null;
  return (
    <Parts>
      <Shell session={session}>
        <Routes>
          <Route path="/floor" element={<FloorPage />} />
          <Route path="/jobs" element={<FloorPage all />} />
          <Route path="/jobs/:number" element={<Navigate to="intake" replace />} />
          <Route path="/jobs/:number/:stage" element={<Page of="JobPage" />} />
          <Route path="/jobs/:number/labels/:step" element={<Page of="LabelsPage" />} />
          <Route path="/jobs/:number/card/:part" element={<Page of="CardPage" />} />
          <Route path="/shelf" element={<Page of="ShelfPage" />} />
          <Route path="/shelf/:kind" element={<Page of="ShelfPage" />} />
          <Route path="/sums" element={<Page of="SumsPage" />} />
          <Route path="/sums/:key" element={<Page of="SumsPage" />} />
          <Route path="/shop" element={<Page of="ShopPage" />} />
          <Route path="/shop/:part" element={<Page of="ShopPage" />} />
          <Route path="/look" element={<Page of="LookPage" />} />
          <Route path="/look/:id" element={<Page of="LookPage" />} />
          <Route path="/guide" element={<Page of="GuidePage" />} />
          <Route path="/guide/:chapter" element={<Page of="GuidePage" />} />
          <Route path="*" element={<Navigate to="/floor" replace />} />
        </Routes>
      </Shell>
    </Parts>
  );
}
