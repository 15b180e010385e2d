<script setup lang="ts">
import { mnPer, spoken } from "../../units";
import { onMounted, onUnmounted, ref } from "vue";
import { LiveTrace } from "./liveTrace";

/**
 * Draws the last stretch of a trace once a frame; only what is on the screen is touched. `close`: a few seconds, and
 * the band large.
 */
const props = defineProps<{
  trace: LiveTrace;
  running: boolean;
  target: { low: number; high: number } | null;
  close?: boolean;
}>();
const SECONDS = props.close ? 6 : 14;
const canvas = ref<HTMLCanvasElement>();
let frame = 0;
let drawn = "";

function draw() {
  frame = requestAnimationFrame(draw);
  const element = canvas.value;
  const context = element?.getContext("2d");
  // Drawn anew as well when day turns to dark, or the unit changes.
  const state = `${props.trace.total} ${document.documentElement.className} ${spoken.force}`;
  if (!element || !context || state === drawn) return;
  drawn = state;
  const style = getComputedStyle(element);
  const ink = style.getPropertyValue("--ink");
  const [w, h] = [element.width, element.height];
  // On a phone the drawing shrinks; what is to be read does not.
  const shrunk = w / (element.clientWidth || w);
  const [size, left] = [Math.max(21, 12 * shrunk), Math.max(52, 32 * shrunk)];
  const least = props.close ? (props.target?.low ?? 0) * 0.75 : 0;
  const most = props.close ? (props.target?.high ?? 220) * 1.2 : Math.max((props.target?.high ?? 220) * 1.7, 300);
  const y = (mn: number) => h - 22 - ((Math.min(Math.max(mn, least), most) - least) / (most - least)) * (h - 34);
  context.clearRect(0, 0, w, h);
  if (props.target) {
    context.fillStyle = style.getPropertyValue("--teal-wash");
    context.fillRect(left, y(props.target.high), w - left, y(props.target.low) - y(props.target.high));
  }
  context.fillStyle = context.strokeStyle = ink;
  context.font = `${size}px ${style.fontFamily}`;
  context.textAlign = "right";
  const step = (spoken.force === "mN" ? 100 : 10) / (props.close ? 5 : 1);
  const first = Math.ceil(least / mnPer(spoken.force) / step) * step;
  for (let at = first; at * mnPer(spoken.force) <= most; at += step)
    context.fillText(String(at), left - 8, y(at * mnPer(spoken.force)) + size / 3);
  const [newest] = props.trace.at(0);
  const x = (t: number) => w - ((newest - t) / SECONDS) * (w - left);
  context.lineWidth = 2.5;
  context.beginPath();
  for (let back = 0; back < props.trace.size; back++) {
    const [t, mn] = props.trace.at(back);
    if (newest - t > SECONDS) break;
    if (back === 0) context.moveTo(x(t), y(mn));
    else context.lineTo(x(t), y(mn));
  }
  context.stroke();
}
onMounted(() => (frame = requestAnimationFrame(draw)));
onUnmounted(() => cancelAnimationFrame(frame));
</script>

<template>
  <canvas
    ref="canvas"
    width="900"
    height="300"
    role="img"
    :aria-label="running ? 'The pull as it comes: tension against time' : 'Recorded pull'"></canvas>
</template>

<style scoped>
canvas {
  display: block;
  width: 100%;
  background: var(--panel);
  border: 1px solid var(--rule);
  font-family: "Atkinson Hyperlegible Next Variable", sans-serif;
}
</style>
