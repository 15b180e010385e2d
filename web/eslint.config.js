import { defineConfigWithVueTs, vueTsConfigs } from "@vue/eslint-config-typescript";
import pluginVue from "eslint-plugin-vue";

export default defineConfigWithVueTs(
  { ignores: ["src/api/schema.d.ts"] },
  pluginVue.configs["flat/essential"],
  vueTsConfigs.recommended,
  { rules: { "vue/multi-word-component-names": "off" } },
);
