<script setup lang="ts">
// What a box between makes of a picture: the rate, what it sends by a setting's options, how it fills, what it writes.
import { computed } from 'vue'

import type { Draft, GearWords } from './draft'

interface Converts {
  rate: string
  output?: string
  outputs?: Record<string, string | string[]>
  fit?: string
  fits?: Record<string, string>
  multiples?: number[]
  sampling?: string[]
  sample?: string
  holds_lines?: number
  holds_frames?: number
  notice?: string
}
defineProps<{ words: GearWords }>()
const draft = defineModel<Draft>('draft', { required: true })
const c = computed(() => draft.value.converts as Converts | undefined)
const text = (event: Event) => (event.target as HTMLInputElement | HTMLSelectElement).value.trim()
function set(part: Partial<Converts>) {
  const next = { ...c.value, ...part } as Record<string, unknown>
  for (const [key, value] of Object.entries(next))
    if (value === undefined || value === '') Reflect.deleteProperty(next, key)
  draft.value.converts = next
}
function whether(on: boolean) {
  if (on)
    draft.value.converts = { rate: 'converted', outputs: { only: '1280x720@60' }, fits: { always: 'fill' } }
  else Reflect.deleteProperty(draft.value, 'converts')
}
const optionsOf = (id: string | undefined) =>
  draft.value.settings?.find((s) => s.id === id)?.options ?? [{ id: 'only', label: 'always' }]
function outputBy(id: string) {
  const modes = Object.values(c.value?.outputs ?? {})
  const outputs = Object.fromEntries(
    optionsOf(id || undefined).map((o, n) => [o.id, modes[n] ?? modes[0] ?? '1280x720@60']),
  )
  set({ output: id || undefined, outputs })
}
function mode(option: string, said: string) {
  const list = said
    .split(',')
    .map((w) => w.trim())
    .filter(Boolean)
  set({ outputs: { ...c.value?.outputs, [option]: list.length > 1 ? list : (list[0] ?? '') } })
}
function fitBy(id: string) {
  const fits = Object.fromEntries(
    (id ? optionsOf(id) : [{ id: 'always', label: 'always' }]).map((o) => [
      o.id,
      c.value?.fits?.[o.id] ?? 'fill',
    ]),
  )
  set({ fit: id || undefined, fits })
}
const shown = (value: string | string[] | undefined) =>
  Array.isArray(value) ? value.join(', ') : (value ?? '')
const numbers = (event: Event) =>
  text(event)
    ? text(event)
        .split(',')
        .map((w) => (Number.isInteger(Number(w)) ? Number(w) : (w.trim() as unknown as number)))
    : undefined
const held = (event: Event) => (text(event) === '' ? undefined : Number(text(event)))
const labelOf = (option: string, by: string | undefined) =>
  optionsOf(by).find((o) => o.id === option)?.label ?? 'always'
</script>

<template>
  <section v-if="draft.role === 'repeater'" aria-label="What it makes of a picture">
    <h2>What it makes of a picture</h2>
    <label class="tick"
      ><input type="checkbox" :checked="!!c" @change="whether(($event.target as HTMLInputElement).checked)" />
      it sends another picture than comes in</label
    >
    <div v-if="c" class="fields">
      <span>
        <label for="cv-rate">The rate is</label>
        <select id="cv-rate" :value="c.rate" @change="set({ rate: text($event) })">
          <option value="kept">kept</option>
          <option value="converted">converted to what it sends</option>
        </select>
      </span>
      <span>
        <label for="cv-out">What it sends is chosen by</label>
        <select id="cv-out" :value="c.output ?? ''" @change="outputBy(text($event))">
          <option value="">nothing: always the same</option>
          <option v-for="s in draft.settings ?? []" :key="s.id" :value="s.id">{{ s.label }}</option>
        </select>
      </span>
      <span v-for="(m, option) in c.outputs ?? {}" :key="option">
        <label :for="`cv-m-${option}`">{{ labelOf(String(option), c.output) }}: it sends</label>
        <input
          :id="`cv-m-${option}`"
          :value="shown(m)"
          placeholder="1280x720@60, 1280x720@50"
          @change="mode(String(option), text($event))"
        />
      </span>
      <span>
        <label for="cv-fit">How it fills is chosen by</label>
        <select id="cv-fit" :value="c.fit ?? ''" @change="fitBy(text($event))">
          <option value="">nothing: always alike</option>
          <option v-for="s in draft.settings ?? []" :key="s.id" :value="s.id">{{ s.label }}</option>
        </select>
      </span>
      <span v-for="(f, option) in c.fits ?? {}" :key="option">
        <label :for="`cv-f-${option}`">{{ labelOf(String(option), c.fit) }}: the picture</label>
        <select
          :id="`cv-f-${option}`"
          :value="f"
          @change="set({ fits: { ...c.fits, [option]: text($event) } })"
        >
          <option v-for="w in words.fits" :key="w.id" :value="w.id">{{ w.name }}</option>
        </select>
      </span>
      <span>
        <label for="cv-times">Multiplies lines by</label>
        <input
          id="cv-times"
          :value="c.multiples?.join(', ') ?? ''"
          placeholder="no multiplier"
          @change="set({ multiples: numbers($event) })"
        />
      </span>
      <span v-for="unit in ['frames', 'lines'] as const" :key="unit">
        <label :for="`cv-${unit}`">Keeps back, {{ unit }}</label>
        <input
          :id="`cv-${unit}`"
          class="fig"
          :value="c[`holds_${unit}`] ?? ''"
          placeholder="not known"
          @change="set({ [`holds_${unit}`]: held($event) })"
        />
      </span>
      <span class="wide">
        <label for="cv-notice">It writes on the picture</label>
        <input
          id="cv-notice"
          :value="c.notice ?? ''"
          maxlength="60"
          placeholder="{system} to {output}"
          @change="set({ notice: text($event) })"
        />
      </span>
    </div>
  </section>
</template>

<style scoped src="./fields.css"></style>
