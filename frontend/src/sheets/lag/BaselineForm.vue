<script setup lang="ts">
// The baseline, setting by setting, and what else is tried of each, one at a time; what the baseline bars says why.
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'

import { api, ask, type PlanIn } from '../../api/client'
import { useSettings } from './useSettings'

const props = defineProps<{ input: string }>()
const emit = defineEmits<{ change: [tried: Pick<PlanIn, 'baseline' | 'each'>] }>()
const { uid, settings } = useSettings(() => props.input)
type Setting = NonNullable<typeof settings.value>[number]
const baseline = ref<Record<string, string>>({})
const chosen = ref<string[]>([]) // setting=option
const key = (setting: string, option: string) => `${setting}=${option}`

const STARTS: [string, (s: Setting) => string, (s: Setting) => boolean][] = [
  ['as quick as it goes', (s) => s.quickest, () => true],
  ['as planned', (s) => s.planned ?? s.quickest, (s) => s.planned !== null],
  ['as found', (s) => s.found ?? s.planned ?? s.quickest, (s) => s.found !== null],
]
function begin(from: (s: Setting) => string) {
  const all = settings.value ?? []
  baseline.value = Object.fromEntries(all.map((s) => [s.id, from(s)]))
  chosen.value = all.flatMap((s) =>
    s.likely ? s.options.filter((o) => o.id !== from(s)).map((o) => key(s.id, o.id)) : [],
  )
}
watch(settings, (all) => all && begin((s) => s.quickest), { immediate: true })
const { data: barred } = useQuery({
  queryKey: computed(() => ['lag-barred', uid.value, props.input, JSON.stringify(baseline.value)]),
  queryFn: () =>
    ask(
      api.POST('/api/v1/lag/{session_uid}/settings/barred', {
        params: { path: { session_uid: uid.value } },
        body: { input: props.input, baseline: baseline.value },
      }),
    ),
  enabled: computed(() => !!uid.value && Object.keys(baseline.value).length > 0),
  placeholderData: (before: Record<string, string> | undefined) => before,
})
const why = (setting: string, option: string) => barred.value?.[key(setting, option)] ?? ''
const stops = computed(() =>
  Object.entries(baseline.value).flatMap(([s, o]) => (why(s, o) ? [why(s, o)] : [])),
)
const each = computed(() =>
  (settings.value ?? []).flatMap((s) =>
    s.options
      .filter(
        (o) => o.id !== baseline.value[s.id] && chosen.value.includes(key(s.id, o.id)) && !why(s.id, o.id),
      )
      .map((o) => ({ setting: s.id, option: o.id })),
  ),
)
watch([baseline, each], () => emit('change', { baseline: { ...baseline.value }, each: each.value }), {
  deep: true,
  immediate: true,
})
const label = (s: Setting, option: string | null) =>
  s.options.find((o) => o.id === option)?.label ?? 'not seen'
</script>

<template>
  <p v-if="settings && !settings.length" class="empty">
    <b>This screen’s profile has no setting that costs time.</b> Measure its modes as a table, or add its
    settings on the shelf.
  </p>
  <template v-else-if="settings">
    <div class="row">
      <span class="small">baseline</span>
      <button
        v-for="[name, from, known] in STARTS"
        :key="name"
        type="button"
        class="slight"
        :disabled="!settings.some(known)"
        @click="begin(from)"
      >
        {{ name }}
      </button>
    </div>
    <p v-for="s in stops" :key="s" class="small attn">{{ s }}</p>
    <table class="plain" aria-label="Baseline and what is tried">
      <thead>
        <tr>
          <th>setting</th>
          <th>baseline</th>
          <th>tried, one at a time</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="s in settings" :key="s.id">
          <td>
            <b>{{ s.label }}</b>
            <small class="quiet"
              >{{ s.found ? `found at ${label(s, s.found)}` : 'not seen'
              }}{{ s.where ? ` · ${s.where}` : '' }}</small
            >
          </td>
          <td>
            <select v-model="baseline[s.id]" :aria-label="`${s.label}, baseline`">
              <option v-for="o in s.options" :key="o.id" :value="o.id">{{ o.label }}</option>
            </select>
          </td>
          <td>
            <template v-for="o in s.options" :key="o.id">
              <small v-if="o.id !== baseline[s.id] && why(s.id, o.id)" class="quiet barred"
                >not {{ o.label }}: {{ why(s.id, o.id).split(': ').at(-1) }}</small
              >
              <label v-else-if="o.id !== baseline[s.id]"
                ><input
                  v-model="chosen"
                  type="checkbox"
                  :value="key(s.id, o.id)"
                  :aria-label="`${s.label} ${o.label}`"
                />
                {{ o.label }}</label
              >
            </template>
          </td>
        </tr>
      </tbody>
    </table>
  </template>
</template>

<style scoped>
td label {
  display: inline-flex;
  align-items: center;
  gap: 5px;
  margin-right: 14px;
}
td small {
  display: block;
}
.row {
  margin-bottom: 8px;
}
</style>
