<script setup lang="ts">
// What is said once of the whole box: lag, light, firmware, rates it prefers, presets, how it shows and what to mind.
import { computed } from 'vue'

import PickList from '../../../shared/PickList.vue'
import ClaimRows from './ClaimRows.vue'
import type { Draft, GearWords } from './draft'

const props = defineProps<{ words: GearWords }>()
const draft = defineModel<Draft>('draft', { required: true })
const text = (event: Event) => (event.target as HTMLInputElement | HTMLSelectElement).value.trim()
function set(key: string, value: unknown) {
  if (value === undefined || value === '') Reflect.deleteProperty(draft.value, key)
  else draft.value[key] = value
}
// what is no number is handed on as it stands: the check says what is wrong with it
function number(key: string, event: Event) {
  const said = text(event)
  const n = Number(said)
  set(key, said === '' ? undefined : Number.isInteger(n) ? n : said)
}
const listed = (key: string, event: Event) =>
  set(
    key,
    text(event)
      ? text(event)
          .split(',')
          .map((w) => w.trim())
          .filter(Boolean)
      : undefined,
  )
const shown = (key: string) => {
  const value = draft.value[key]
  return Array.isArray(value) ? value.join(', ') : value === undefined ? '' : String(value)
}
const yesNo = (key: string) =>
  draft.value[key] === undefined ? '' : draft.value[key] === true ? 'yes' : 'no'
const YES_NO = computed(() =>
  is('source')
    ? ([['repeats_frames', 'Repeats frames below a window']] as const)
    : ([['plays', 'Makes sound itself']] as const),
)
const cautions = computed(() => (draft.value.cautions as string[] | undefined) ?? [])
function caution(id: string, on: boolean) {
  const left = cautions.value.filter((c) => c !== id)
  const next = on ? [...left, id] : left
  set('cautions', next.length ? next : undefined)
}
const shape = computed(
  () =>
    (draft.value.shown_as ?? draft.value.draws) as
      { glass?: string; fits?: Record<string, string> } | undefined,
)
function setGlass(event: Event) {
  const key = draft.value.role === 'source' ? 'draws' : 'shown_as'
  set(
    key,
    text(event)
      ? {
          ...(draft.value[key] as object | undefined),
          glass: text(event),
          fits: shape.value?.fits ?? { always: 'fill' },
        }
      : undefined,
  )
}
function setFit(event: Event) {
  const key = draft.value.role === 'source' ? 'draws' : 'shown_as'
  set(key, { glass: '16:9', ...(draft.value[key] as object | undefined), fits: { always: text(event) } })
}
const fit = computed(() => shape.value?.fits?.always ?? '')
const is = (...roles: string[]) => roles.includes(draft.value.role)
const NUMBERS = computed(() =>
  (
    [
      ['lag_bound_ms', 'Lag it is judged against, ms', is('screen')],
      ['peak_cd_m2', 'Brightest HDR white, cd/m²', is('screen')],
      ['average_cd_m2', 'A whole white frame, cd/m²', is('screen')],
      ['most_sound_delay_ms', 'Most delay of sound, ms', is('sound', 'repeater')],
    ] as const
  ).filter(([, , on]) => on),
)
// what its outputs get, adapters, and what a source drives at once
const ROUTINGS = [
  { id: 'switch', name: 'one of the inputs' },
  { id: 'splitter', name: 'the same picture each' },
  { id: 'matrix', name: 'an input chosen for each' },
  { id: 'streams', name: 'a picture of its own each' },
]
const ADAPTS = [
  { id: 'passive', name: 'passive adapter' },
  { id: 'active', name: 'active converter' },
]
interface Displays {
  most?: number
  most_mhz?: number
  apart?: string[][]
}
const displays = computed(() => (draft.value.displays ?? {}) as Displays)
const apart = computed(() => (displays.value.apart ?? []).map((g) => g.join(' ')).join(', '))
function keepDisplays(change: Displays) {
  const next = { ...displays.value, ...change }
  if (!next.most) delete next.most
  if (!next.apart?.length) delete next.apart
  set('displays', Object.keys(next).length ? next : undefined)
}
const setDisplays = (event: Event) => keepDisplays({ most: Number(text(event)) || undefined })
const setApart = (event: Event) =>
  keepDisplays({
    apart: text(event)
      .split(',')
      .map((g) => g.trim().split(/\s+/).filter(Boolean))
      .filter((g) => g.length),
  })
// the home screen's rate: one figure, or one for each option of a setting it follows
interface HomeRate {
  setting: string
  hz: Record<string, number | string>
}
const ALWAYS = 'always'
const home = computed(() => draft.value.home_hz as number | string | HomeRate | undefined)
const followable = computed(() => (draft.value.settings ?? []).filter((s) => s.options?.length))
const homeBy = computed(() => (typeof home.value === 'object' ? home.value.setting : ''))
const homeRates = computed((): [string, string, number | string][] => {
  const said = home.value
  if (typeof said !== 'object') return [[ALWAYS, 'Home screen, Hz', said ?? '']]
  const options = followable.value.find((s) => s.id === said.setting)?.options ?? []
  return options.map((o) => [o.id, `Home screen at ${o.label}, Hz`, said.hz[o.id] ?? ''])
})
function setHomeBy(setting: string) {
  const options = followable.value.find((s) => s.id === setting)?.options ?? []
  const before = typeof home.value === 'object' ? Object.values(home.value.hz)[0] : home.value
  set(
    'home_hz',
    setting ? { setting, hz: Object.fromEntries(options.map((o) => [o.id, before ?? 60])) } : before,
  )
}
function setHome(option: string, event: Event) {
  if (option === ALWAYS || typeof home.value !== 'object') {
    number('home_hz', event)
    return
  }
  const said = text(event)
  const hz: HomeRate['hz'] = {
    ...home.value.hz,
    [option]: Number.isInteger(Number(said)) ? Number(said) : said,
  }
  if (said === '') Reflect.deleteProperty(hz, option)
  set('home_hz', { ...home.value, hz })
}
const LISTS = computed(() =>
  (
    [
      [
        'prefers',
        'Modes it picks for titles, first choice first',
        '3840x2160@120, 1920x1080@60',
        is('source'),
      ],
      ['hdr_modes', 'HDR in games only at', 'all it sends', is('source')],
      ['video_hdr_modes', 'HDR in films only at', 'all it sends', is('source')],
      ['picture_modes', 'Picture presets, where no setting lists them', 'standard, game, film', is('screen')],
    ] as const
  ).filter(([, , , on]) => on),
)
</script>

<template>
  <section aria-label="The whole box">
    <h2>The whole box</h2>
    <div class="fields">
      <span v-for="[key, name] in NUMBERS" :key="key">
        <label :for="`bf-${key}`">{{ name }}</label>
        <input
          :id="`bf-${key}`"
          class="fig"
          inputmode="numeric"
          :value="shown(key)"
          placeholder="not known"
          @change="number(key, $event)"
        />
      </span>
      <template v-if="is('source')">
        <span>
          <label for="bf-home-by">Its home screen’s rate</label>
          <select id="bf-home-by" :value="homeBy" @change="setHomeBy(text($event))">
            <option value="">is always the same</option>
            <option v-for="s in followable" :key="s.id" :value="s.id">follows {{ s.label }}</option>
          </select>
        </span>
        <span v-for="[option, name, hz] in homeRates" :key="option">
          <label :for="`bf-home-${option}`">{{ name }}</label>
          <input
            :id="`bf-home-${option}`"
            class="fig"
            inputmode="numeric"
            :value="hz"
            placeholder="not known"
            @change="setHome(option, $event)"
          />
        </span>
      </template>
      <PickList
        v-if="is('repeater', 'screen')"
        id="bf-routing"
        label="Its outputs get"
        none="what it is"
        :list="ROUTINGS"
        :value="(draft.routing as string | undefined) ?? ''"
        @pick="set('routing', $event || undefined)"
      />
      <PickList
        v-if="is('repeater')"
        id="bf-adapts"
        label="Between kinds of socket"
        none="it changes none"
        :list="ADAPTS"
        :value="(draft.adapts as string | undefined) ?? ''"
        @pick="set('adapts', $event || undefined)"
      />
      <span v-if="is('source')">
        <label for="bf-displays">Displays it drives at once</label>
        <input
          id="bf-displays"
          class="fig"
          inputmode="numeric"
          :value="displays.most ?? ''"
          placeholder="not known"
          @change="setDisplays"
        />
      </span>
      <span v-if="is('source')">
        <label for="bf-apart">Sockets that exclude each other</label>
        <input id="bf-apart" :value="apart" placeholder="usbc hdmi" @change="setApart" />
      </span>
      <span>
        <label for="bf-fw">Newest firmware known</label>
        <input
          id="bf-fw"
          :value="shown('newest_firmware')"
          placeholder="not known"
          @change="set('newest_firmware', text($event))"
        />
      </span>
      <PickList
        v-for="[key, name] in YES_NO"
        :id="`bf-${key}`"
        :key="key"
        :label="name"
        none="not known"
        :list="[
          { id: 'yes', name: 'yes' },
          { id: 'no', name: 'no' },
        ]"
        :value="yesNo(key)"
        @pick="set(key, $event === '' ? undefined : $event === 'yes')"
      />
      <span v-if="is('screen', 'source')">
        <label for="bf-glass">{{ is('source') ? 'It draws for a frame of' : 'Its glass' }}</label>
        <input id="bf-glass" :value="shape?.glass ?? ''" placeholder="16:9" @change="setGlass" />
      </span>
      <span v-if="is('screen', 'source')">
        <label for="bf-fit">and a picture there</label>
        <select id="bf-fit" :value="fit" @change="setFit">
          <option value="" disabled>{{ shape ? 'by a setting' : 'not said' }}</option>
          <option v-for="f in props.words.fits" :key="f.id" :value="f.id">{{ f.name }}</option>
        </select>
      </span>
      <span v-for="[key, name, usual] in LISTS" :key="key" class="wide">
        <label :for="`bf-${key}`">{{ name }}</label>
        <input :id="`bf-${key}`" :value="shown(key)" :placeholder="usual" @change="listed(key, $event)" />
      </span>
    </div>
    <ClaimRows v-if="is('screen', 'repeater')" v-model:draft="draft" />
    <p class="row small">
      <span>To mind:</span>
      <label v-for="c in props.words.cautions" :key="c.id" class="tick"
        ><input
          type="checkbox"
          :checked="cautions.includes(c.id)"
          @change="caution(c.id, ($event.target as HTMLInputElement).checked)"
        />
        {{ c.name }}</label
      >
    </p>
  </section>
</template>

<style scoped src="./fields.css"></style>
