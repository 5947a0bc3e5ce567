import { useEffect, useState, type FormEvent } from "react";
import { useQueryClient } from "@tanstack/react-query";
import { api, take, type ApiError } from "../api/client";
import { Mark } from "../parts/figures/Glyphs";

const FIELDS = [
  ["shop", "Name of the shop", "organization"],
  ["town", "Town; may wait", "address-level2"],
  ["altitude", "Altitude, like 1450 m", "off"],
  ["currency", "Money, as prices show it; may wait", "off"],
  ["first", "Your first name", "given-name"],
  ["last", "Your last name", "family-name"],
  ["username", "You sign in as", "username"],
  ["phrase", "Your pass phrase, 12 characters or more", "new-password"],
] as const;

/** An own shop, started for the first time: what it is, and who leads it. */
export function FirstShopPage() {
  const client = useQueryClient();
  const [wrong, setWrong] = useState("");
  const [busy, setBusy] = useState(false);
  useEffect(() => {
    document.title = "A new shop · Vent Map";
  }, []);
  const send = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const starter = (event.nativeEvent as SubmitEvent).submitter?.getAttribute("value") !== "empty";
    const form = new FormData(event.currentTarget);
    const typed = Object.fromEntries(FIELDS.map(([name]) => [name, String(form.get(name) ?? "")]));
    setBusy(true);
    try {
      await take(
        api.POST("/api/shops", {
          body: {
            house: {
              name: typed.shop,
              town: typed.town,
              altitude: typed.altitude,
              unit: "m",
              currency: typed.currency || "money",
            },
            lead: {
              username: typed.username,
              first: typed.first,
              last: typed.last,
              role: "lead",
              phrase: typed.phrase,
            },
          },
        }),
      );
      // The shop is open whatever becomes of its shelf: what is missing can be added there later.
      if (starter) await take(api.PUT("/api/starter-shelf")).catch(() => undefined);
      client.setQueryData(["session"], await take(api.GET("/api/sessions/current")));
    } catch (error) {
      setWrong((error as ApiError).message);
      setBusy(false);
    }
  };
  return (
    <main className="signin two">
      <div className="row" style={{ marginBottom: 18 }}>
        <Mark size={40} />
        <h1 style={{ letterSpacing: ".06em" }}>VENT MAP</h1>
      </div>
      <p style={{ marginBottom: 14 }}>
        A new shop: nobody is here yet. Say what it is and who leads it; the others are added under{" "}
        <b>Shop</b>.
      </p>
      <form className="sheet" onSubmit={send} noValidate>
        {FIELDS.map(([name, label, complete]) => (
          <label key={name}>
            {label}
            <input name={name} autoComplete={complete} type={name === "phrase" ? "password" : "text"} />
          </label>
        ))}
        {wrong && <p role="alert">{wrong}</p>}
        <p className="soft plain">
          The starter shelf holds engine layouts, sizes of injectors, fuels, sensors, tools and a plain device
          of each kind: by geometry and public standards, no maker&apos;s. It can be taken off again.
        </p>
        <button type="submit" value="starter" disabled={busy}>
          {busy ? "Opening" : "Open the shop with the starter shelf"}
        </button>
        <button type="submit" value="empty" className="second" disabled={busy}>
          Open it with an empty shelf
        </button>
      </form>
    </main>
  );
}
