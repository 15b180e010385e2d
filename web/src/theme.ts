import { definePreset } from "@primeuix/themes";
import autocomplete from "@primeuix/themes/aura/autocomplete";
import base from "@primeuix/themes/aura/base";
import button from "@primeuix/themes/aura/button";
import chip from "@primeuix/themes/aura/chip";
import dialog from "@primeuix/themes/aura/dialog";
import inputtext from "@primeuix/themes/aura/inputtext";
import ripple from "@primeuix/themes/aura/ripple";
import select from "@primeuix/themes/aura/select";
import textarea from "@primeuix/themes/aura/textarea";
import virtualscroller from "@primeuix/themes/aura/virtualscroller";

/** Only what is used, and what that is made of: the measures of all controls are a third of the first script. */
const controls = { autocomplete, button, chip, dialog, inputtext, ripple, select, textarea, virtualscroller };

/** PrimeVue's controls in the workshop's colors: indigo cloth, white thread, marigold. */
export const Workshop = definePreset(
  { ...base, components: controls },
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
