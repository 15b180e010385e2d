import { onUnmounted, ref } from "vue";

/** Whether a media query holds, followed as long as the page that asks is there. */
export function useMedia(query: string) {
  const list = window.matchMedia(query);
  const holds = ref(list.matches);
  const follow = () => (holds.value = list.matches);
  list.addEventListener("change", follow);
  onUnmounted(() => list.removeEventListener("change", follow));
  return holds;
}
