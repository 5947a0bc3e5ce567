import { useEffect } from "react";
import { Link, useParams } from "react-router";
import { useSession } from "../api/hooks";
import { Health } from "../parts/shop/Health";
import { House } from "../parts/shop/House";
import { Lists } from "../parts/shelf/Lists";
import { HouseRules } from "../parts/shop/HouseRules";
import { Practice } from "../parts/shop/Practice";
import { Me, People } from "../parts/shop/People";

const PARTS: Record<string, string> = {
  rules: "House rules",
  people: "People",
  house: "The shop",
  lists: "Bring and take lists",
  health: "Record and backup",
  me: "You",
};

/** The shop itself: its rules, its people, and the one who is signed in. */
export default function ShopPage() {
  const { part = "rules" } = useParams();
  const session = useSession().data!;
  useEffect(() => {
    document.title = `${PARTS[part] ?? "Shop"} · Vent Map`;
  }, [part]);
  return (
    <main className="floor sums" id="work">
      <nav className="side" aria-label="Shop">
        <span className="head">{session.house}</span>
        {Object.entries(PARTS).map(([key, label]) => (
          <Link key={key} to={`/shop/${key}`} className={key === part ? "active" : ""}>
            {label}
          </Link>
        ))}
      </nav>
      <div style={{ minWidth: 0 }}>
        {part === "people" ? (
          <People lead={session.role === "lead"} />
        ) : part === "me" ? (
          <Me session={session} />
        ) : part === "health" ? (
          <Health lead={session.role === "lead"} />
        ) : part === "lists" ? (
          <Lists viewer={session.role === "viewer"} />
        ) : part === "house" ? (
          <>
            <House session={session} />
            <Practice lead={session.role === "lead"} />
          </>
        ) : (
          <HouseRules lead={session.role === "lead"} />
        )}
      </div>
    </main>
  );
}
