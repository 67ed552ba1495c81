<script setup lang="ts">
// Figures a socket or a whole box carries. Empty is not known, or as the box.
import { computed } from 'vue'

import type { GearWords, VideoPart } from './draft'

const props = defineProps<{
  video: VideoPart
  words: GearWords
  id: string
  empty: string
  only?: string[]
  without?: string[]
}>()
const emit = defineEmits<{ set: [field: string, value: unknown] }>()

// what a kind of socket has none of is asked only where somebody stated it nevertheless
const shown = (field: string) =>
  (!props.only || props.only.includes(field)) &&
  (!props.without?.includes(field) || props.video[field] !== undefined)
const text = (field: string) => {
  const value = props.video[field]
  return Array.isArray(value) ? value.join(', ') : value === undefined ? '' : String(value)
}
function list(field: string, event: Event) {
  const words = (event.target as HTMLInputElement).value.split(/[,\s]+/).filter(Boolean)
  emit('set', field, words.length === 1 && words[0] === 'any' ? 'any' : words.length ? words : undefined)
}
function number(field: string, event: Event) {
  const typed = (event.target as HTMLInputElement).value.trim()
  emit('set', field, typed === '' ? undefined : Number(typed))
}
const pick = (field: string, event: Event) =>
  emit('set', field, (event.target as HTMLSelectElement).value || undefined)
function flag(field: string, event: Event) {
  const value = (event.target as HTMLSelectElement).value
  emit('set', field, value === '' ? undefined : value === 'yes')
}
const flagOf = (field: string) =>
  props.video[field] === undefined ? '' : props.video[field] === false ? 'no' : 'yes'
const hdrText = computed(() => (Array.isArray(props.video.hdr) ? (props.video.hdr as string[]) : null))
function hdr(event: Event) {
  const value = (event.target as HTMLSelectElement).value
  const lists: Record<string, string[] | undefined> = {
    '': undefined,
    none: [],
    static: ['static'],
    hlg: ['static', 'hlg'],
    dynamic: ['static', 'hlg', 'dynamic'],
  }
  emit('set', 'hdr', lists[value])
}
const hdrOf = computed(() => {
  const kinds = hdrText.value
  if (kinds === null) return ''
  return kinds.includes('dynamic')
    ? 'dynamic'
    : kinds.includes('hlg')
      ? 'hlg'
      : kinds.length
        ? 'static'
        : 'none'
})
function vrr(event: Event) {
  const typed = (event.target as HTMLInputElement).value.trim().toLowerCase()
  const pair = /^(\d+)\D+(\d+)$/.exec(typed)
  if (typed === '') emit('set', 'vrr', undefined)
  else if (typed === 'no' || typed === 'yes') emit('set', 'vrr', typed === 'yes')
  else emit('set', 'vrr', pair ? [Number(pair[1]), Number(pair[2])] : typed)
}
const vrrOf = computed(() => {
  const v = props.video.vrr
  return Array.isArray(v)
    ? `${v[0]}–${v[1]}`
    : v === undefined
      ? ''
      : v === false
        ? 'no'
        : v === true
          ? 'yes'
          : String(v)
})
const kindsOf = computed(() => ((props.video.vrr_kinds as string[] | undefined) ?? []).join(' '))
const kinds = (event: Event) =>
  emit('set', 'vrr_kinds', (event.target as HTMLSelectElement).value.split(' ').filter(Boolean))
// `rgb 8/10, 422 12`: depths by encoding; an encoding left out is known to be absent
const ENCODINGS = ['rgb', '444', '422', '420'] as const
const depths = computed(() => {
  const all = props.video.encodings as Record<string, number[]> | undefined
  if (!all) return ''
  return ENCODINGS.filter((e) => all[e]?.length)
    .map((e) => `${e} ${(all[e] ?? []).join('/')}`)
    .join(', ')
})
function setDepths(event: Event) {
  const typed = (event.target as HTMLInputElement).value.trim()
  if (typed === '') {
    emit('set', 'encodings', undefined)
    return
  }
  const found: Record<string, number[]> = {}
  for (const part of typed.split(',')) {
    const [name, ...bits] = part
      .trim()
      .toLowerCase()
      .replaceAll(':', '')
      .split(/[\s/]+/)
    if (name) found[name] = bits.map(Number)
  }
  emit('set', 'encodings', found)
}
const FLAGS = [
  ['low_latency', 'Automatic low latency'],
  ['encrypts', 'Protects everything'],
] as const
</script>

<template>
  <div class="fields">
    <span v-if="shown('tmds_mhz')">
      <label :for="`${id}-tmds`">TMDS, MHz</label>
      <input
        :id="`${id}-tmds`"
        inputmode="numeric"
        :value="text('tmds_mhz')"
        :placeholder="empty"
        @change="number('tmds_mhz', $event)"
      />
    </span>
    <span v-if="shown('frl')">
      <label :for="`${id}-frl`">FRL</label>
      <select :id="`${id}-frl`" :value="text('frl')" @change="pick('frl', $event)">
        <option value="">{{ empty }}</option>
        <option v-for="f in words.frl" :key="f.id" :value="f.id">{{ f.name }}</option>
      </select>
    </span>
    <span v-if="shown('dp')">
      <label :for="`${id}-dp`">DisplayPort</label>
      <select :id="`${id}-dp`" :value="text('dp')" @change="pick('dp', $event)">
        <option value="">{{ empty }}</option>
        <option v-for="f in words.dp" :key="f.id" :value="f.id">{{ f.name }}</option>
      </select>
    </span>
    <span v-if="shown('hdr')">
      <label :for="`${id}-hdr`">HDR</label>
      <select :id="`${id}-hdr`" :value="hdrOf" @change="hdr">
        <option value="">{{ empty }}</option>
        <option value="none">none</option>
        <option value="static">static</option>
        <option value="hlg">static, HLG</option>
        <option value="dynamic">static, HLG, dynamic</option>
      </select>
    </span>
    <span v-if="shown('vrr')">
      <label :for="`${id}-vrr`">Variable refresh, Hz</label>
      <input :id="`${id}-vrr`" :value="vrrOf" placeholder="48–120, yes, no" @change="vrr" />
    </span>
    <span v-if="shown('vrr_kinds')">
      <label :for="`${id}-vrr-kinds`">Kind of variable refresh</label>
      <select :id="`${id}-vrr-kinds`" :value="kindsOf" @change="kinds">
        <option value="">{{ empty }}</option>
        <option v-for="k in words.vrr_kinds" :key="k.id" :value="k.id">{{ k.name }}</option>
        <option value="hdmi vendor">both</option>
      </select>
    </span>
    <template v-for="[field, name] in FLAGS" :key="field">
      <span v-if="shown(field)">
        <label :for="`${id}-${field}`">{{ name }}</label>
        <select :id="`${id}-${field}`" :value="flagOf(field)" @change="flag(field, $event)">
          <option value="">{{ empty }}</option>
          <option value="yes">yes</option>
          <option value="no">no</option>
        </select>
      </span>
    </template>
    <span v-if="shown('hdcp')">
      <label :for="`${id}-hdcp`">Copy protection</label>
      <select :id="`${id}-hdcp`" :value="text('hdcp')" @change="pick('hdcp', $event)">
        <option value="">{{ empty }}</option>
        <option v-for="p in words.protection" :key="p.id" :value="p.id">{{ p.name }}</option>
      </select>
    </span>
    <span v-if="shown('encodings')" class="wide">
      <label :for="`${id}-depths`">Depths by encoding</label>
      <input
        :id="`${id}-depths`"
        class="fig"
        :value="depths"
        :placeholder="empty === 'as the box' ? empty : 'rgb 8/10, 444 8/10, 422 12'"
        @change="setDepths"
      />
    </span>
    <span v-if="shown('modes')" class="wide">
      <label :for="`${id}-modes`">Modes</label>
      <input
        :id="`${id}-modes`"
        class="fig"
        :value="text('modes')"
        :placeholder="empty === 'as the box' ? empty : 'vic:97, 3840x2160@60, any'"
        @change="list('modes', $event)"
      />
    </span>
  </div>
</template>

<style scoped src="./fields.css"></style>
