import { createContext, useCallback, useContext, useEffect, useMemo, useState, type ReactNode } from "react";
import { day, night, type Palette } from "./tokens";

interface Look {
  dark: boolean;
  palette: Palette;
  imperial: boolean;
  gloves: boolean;
  turnNight: () => void;
  swapUnits: () => void;
  swapGloves: () => void;
}

const LookContext = createContext<Look | null>(null);

function useKept(key: string): [boolean, (value: boolean) => void] {
  const [on, setOn] = useState(() => localStorage.getItem(key) === "1");
  const keep = useCallback(
    (value: boolean) => {
      localStorage.setItem(key, value ? "1" : "0");
      setOn(value);
    },
    [key],
  );
  return [on, keep];
}

/** Day or night, the unit set, and large touch for gloves; all kept on this tablet. */
export function LookProvider({ children }: { children: ReactNode }) {
  const [dark, setDark] = useKept("ventmap.night");
  const [imperial, setImperial] = useKept("ventmap.imperial");
  const [gloves, setGloves] = useKept("ventmap.gloves");
  const palette = dark ? night : day;
  useEffect(() => {
    for (const [name, colour] of Object.entries(palette))
      document.documentElement.style.setProperty(`--${name}`, colour);
    document.documentElement.dataset.look = dark ? "night" : "day";
    document.documentElement.dataset.touch = gloves ? "large" : "plain";
  }, [dark, gloves, palette]);
  const look = useMemo(
    () => ({
      dark,
      palette,
      imperial,
      gloves,
      turnNight: () => setDark(!dark),
      swapUnits: () => setImperial(!imperial),
      swapGloves: () => setGloves(!gloves),
    }),
    [dark, gloves, imperial, palette, setDark, setGloves, setImperial],
  );
  return <LookContext.Provider value={look}>{children}</LookContext.Provider>;
}

export function useLook(): Look {
  const look = useContext(LookContext);
  if (!look) throw new Error("LookProvider is missing");
  return look;
}
