import { ref, watch, type Ref } from "vue";

/** A value that follows another once it has been still for a moment. */
export function refDebounced<T>(source: Ref<T>, ms: number): Ref<T> {
  const late = ref(source.value) as Ref<T>;
  let timer = 0;
  watch(source, (value) => {
    window.clearTimeout(timer);
    timer = window.setTimeout(() => (late.value = value), ms);
  });
  return late;
}
