import { App, ConfigProvider, theme as antd, type ThemeConfig } from "antd";
import type { ReactNode } from "react";
import { useLook } from "./Look";
import { day, night } from "./tokens";

function themeOf(dark: boolean, gloves: boolean): ThemeConfig {
  const p = dark ? night : day;
  return {
    algorithm: dark ? antd.darkAlgorithm : antd.defaultAlgorithm,
    token: {
      colorPrimary: p.petrol,
      colorInfo: p.petrol,
      colorError: p.oxide,
      colorWarning: p.ochre,
      colorSuccess: p.moss,
      colorLink: p.petrol,
      colorText: p.ink,
      colorTextSecondary: p.soft,
      colorBgBase: p.sheet,
      colorBgContainer: p.sheet,
      // Drawers, menus and dialogs lie on the same sheet, by day and by night.
      colorBgElevated: p.sheet,
      colorBgLayout: p.paper,
      colorBorder: p.rule,
      colorBorderSecondary: p.rule,
      colorTextPlaceholder: p.soft,
      colorTextLightSolid: p.petrolText,
      colorSuccessBg: p.pale,
      colorSuccessBorder: p.moss,
      colorErrorBg: p.alarm,
      colorErrorBorder: p.oxide,
      colorWarningBg: p.caution,
      colorWarningBorder: p.ochre,
      fontFamily: "'Atkinson Hyperlegible', sans-serif",
      fontSize: gloves ? 18 : 15,
      borderRadius: 4,
      controlHeight: gloves ? 58 : 42,
      motion: false,
      wireframe: false,
    },
    components: {
      Button: {
        fontWeight: 700,
        primaryShadow: "none",
        defaultShadow: "none",
        defaultColor: p.petrol,
        defaultBorderColor: p.petrol,
      },
    },
  };
}

/** Ant Design under our tokens. Loaded with the screens behind the sign-in: the first screen does without. */
export function Parts({ children }: { children: ReactNode }) {
  const { dark, gloves } = useLook();
  return (
    <ConfigProvider theme={themeOf(dark, gloves)}>
      <App message={{ maxCount: 3, top: 60 }}>{children}</App>
    </ConfigProvider>
  );
}
