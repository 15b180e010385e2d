import { join } from "node:path";
import { definePreset, Theme } from "@primeuix/themes";
import autocomplete from "@primeuix/themes/aura/autocomplete";
import base from "@primeuix/themes/aura/base";
import button from "@primeuix/themes/aura/button";
import chip from "@primeuix/themes/aura/chip";
import dialog from "@primeuix/themes/aura/dialog";
import inputtext from "@primeuix/themes/aura/inputtext";
import select from "@primeuix/themes/aura/select";
import textarea from "@primeuix/themes/aura/textarea";
import virtualscroller from "@primeuix/themes/aura/virtualscroller";
import BaseStyle from "@primevue/core/base/style";
import AutoCompleteStyle from "primevue/autocomplete/style";
import ButtonStyle from "primevue/button/style";
import ChipStyle from "primevue/chip/style";
import DialogStyle from "primevue/dialog/style";
import InputTextStyle from "primevue/inputtext/style";
import SelectStyle from "primevue/select/style";
import TextareaStyle from "primevue/textarea/style";
import VirtualScrollerStyle from "primevue/virtualscroller/style";
import type { Plugin } from "vite";

/** Only what is used, and what that is made of. */
const STYLES = [
  ButtonStyle,
  InputTextStyle,
  TextareaStyle,
  SelectStyle,
  AutoCompleteStyle,
  ChipStyle,
  DialogStyle,
  VirtualScrollerStyle,
];
const components = { autocomplete, button, chip, dialog, inputtext, select, textarea, virtualscroller };

/** PrimeVue's controls in the workshop's colors: indigo cloth, white thread, marigold. */
const Workshop = definePreset(
  { ...base, components },
  {
    semantic: {
      primary: {
        50: "#eef1fb",
        100: "#d9dff4",
        200: "#b6c1e8",
        300: "#8c9cd8",
        400: "#6276c3",
        500: "#3f55a8",
        600: "#2f428c",
        700: "#27376f",
        800: "#1f2a56",
        900: "#182044",
        950: "#10162f",
      },
      focusRing: { width: "3px", style: "solid", color: "var(--ring)", offset: "2px" },
      colorScheme: {
        light: {
          primary: { color: "#27376f", hoverColor: "#1f2a56", activeColor: "#182044", contrastColor: "#ffffff" },
          surface: {
            0: "#ffffff",
            50: "#f4f6f8",
            100: "#e6eaee",
            200: "#d3dae1",
            300: "#aeb9c5",
            400: "#8593a3",
            500: "#626f80",
            600: "#4d5868",
            700: "#3a4352",
            800: "#262e3d",
            900: "#1b2447",
            950: "#101733",
          },
        },
        dark: {
          primary: { color: "#b6c1e8", hoverColor: "#d9dff4", activeColor: "#eef1fb", contrastColor: "#10162f" },
          surface: {
            0: "#ffffff",
            50: "#e6ebf5",
            100: "#cdd6e6",
            200: "#a9b5cb",
            300: "#8794ae",
            400: "#66738f",
            500: "#4a5674",
            600: "#38435f",
            700: "#2b3550",
            800: "#222b45",
            900: "#1a2239",
            950: "#131a2e",
          },
        },
      },
    },
  },
);

/** Where what the style is made of lies, for its license. */
export const THEME_FOLDER = join(import.meta.dirname, "node_modules", "@primeuix", "themes");
const CONTROLS = "virtual:controls.css";

/**
 * The style of PrimeVue's controls, made when the pages are built: a browser that works it out at each start is held up
 * by it for a fifth of the time until the first screen is there.
 */
export function controls(): Plugin {
  return {
    name: "controls",
    resolveId: (id) => (id === CONTROLS ? id : undefined),
    load(id) {
      if (id !== CONTROLS) return;
      Theme.setTheme({ preset: Workshop, options: { darkModeSelector: ".evening" } });
      const sheets = [BaseStyle.getCommonThemeStyleSheet(), ...[BaseStyle, ...STYLES].map(themed)];
      return needed(sheets.join("").replace(/<\/?style[^>]*>/g, "\n"));
    },
  };
}
/** Leaves the measures out that none of these rules reads: whole palettes, and what only they were read by. */
function needed(css: string): string {
  const read = new Set(css.match(/(?<=var\()--p-[\w-]+/g));
  const left = css.replace(/(--p-[\w-]+):[^;{}]*(;|(?=}))/g, (whole, name: string) => (read.has(name) ? whole : ""));
  return left === css ? css : needed(left);
}
const themed = (style: typeof BaseStyle) => style.getThemeStyleSheet();
