import { useEffect, useState, type FormEvent } from "react";
import { useQueryClient } from "@tanstack/react-query";
import { api, take, type ApiError } from "../api/client";
import { Mark } from "../parts/figures/Glyphs";

/** The first screen, and the lightest: plain fields, so that it stands before the rest is fetched. */
export function SignInPage({ sample }: { sample: boolean }) {
  const client = useQueryClient();
  const [wrong, setWrong] = useState("");
  const [busy, setBusy] = useState(false);
  useEffect(() => {
    document.title = "Sign in · Vent Map";
  }, []);
  // Where they wanted to go is kept by the address; `Screens` leads there once the session is known.
  const send = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const entered = new FormData(event.currentTarget);
    const [name, phrase] = [String(entered.get("name")), String(entered.get("phrase"))];
    if (!name.trim() || !phrase) return setWrong(name.trim() ? "Type your pass phrase." : "Type your name.");
    setBusy(true);
    try {
      client.setQueryData(["session"], await take(api.POST("/api/sessions", { body: { name, phrase } })));
    } catch (error) {
      setWrong((error as ApiError).message);
      setBusy(false);
    }
  };
  return (
    <main className="signin">
      <div className="row" style={{ marginBottom: 18 }}>
        <Mark size={40} />
        <h1 style={{ letterSpacing: ".06em" }}>VENT MAP</h1>
      </div>
      <form className="sheet" onSubmit={send} noValidate>
        <label>
          Name
          <input name="name" autoFocus autoComplete="username" />
        </label>
        <label>
          Pass phrase
          <input name="phrase" type="password" autoComplete="current-password" />
        </label>
        {wrong && <p role="alert">{wrong}</p>}
        <button type="submit" disabled={busy}>
          {busy ? "Signing in" : "Sign in"}
        </button>
      </form>
      {sample && (
        <p className="soft">
          Sample shop: sign in as <b>lead</b>, <b>installer</b> or <b>viewer</b>; pass phrase{" "}
          <span className="num">sorrel pass 1450</span>.
        </p>
      )}
    </main>
  );
}
