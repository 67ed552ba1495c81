<script setup lang="ts">
// The tape: the chosen run from source to glass, each link a bar of use against capacity, the pinch marked.
import { useWindowSize } from '@vueuse/core'
import { computed } from 'vue'

import type { Link } from '../api/client'
import { useJob } from '../shared/job'
import { repaintMs } from '../shared/repaint'
import VerdictIcon from '../shared/VerdictIcon.vue'
import { loadText, metres } from '../shared/words'

const props = defineProps<{ thin: boolean }>()
const job = useJob()
const [LEAST_LINKS, MOST_LINKS] = [2, 4]
const LINK_WITH_STAGE = 300 // pixels one wants, at the least
const { width: wide } = useWindowSize()
const most = computed(() =>
  Math.min(MOST_LINKS, Math.max(LEAST_LINKS, Math.floor(wide.value / LINK_WITH_STAGE))),
)

const run = computed(() => job.run)
const pinch = computed(() => {
  const links = run.value?.links ?? []
  const blocked = links.findIndex((l) => l.verdict === 'blocked' || l.verdict === 'unknown')
  if (blocked >= 0) return blocked
  return links.reduce((top, l, n) => ((l.used_percent ?? 0) > (links[top]?.used_percent ?? 0) ? n : top), 0)
})
// Many stages: the pinch and its neighbours are drawn, the rest are counted and named.
const window_ = computed(() => {
  const count = run.value?.links.length ?? 0
  if (count <= most.value) return { from: 0, to: count }
  const from = Math.min(Math.max(0, pinch.value - 1), count - most.value)
  return { from, to: from + most.value }
})
const links = computed(() => (run.value?.links ?? []).slice(window_.value.from, window_.value.to))
const stages = computed(() => (run.value?.stages ?? []).slice(window_.value.from, window_.value.to + 1))
const before = computed(() => window_.value.from)
const after = computed(() => Math.max(0, (run.value?.links.length ?? 0) - window_.value.to))

const left = (from: number, to?: number) =>
  (run.value?.stages ?? [])
    .slice(from, to)
    .map((s) => s.label)
    .join(', ')
const width = (link: Link) => `${Math.min(100, link.used_percent ?? 0)}%`
const below = (link: Link) => {
  if (link.transport === null) return link.sentence || link.ceiling
  if (link.verdict === 'blocked')
    return run.value?.carried ? `falls back to ${run.value.carried}` : 'nothing fits'
  if (link.verdict === 'unknown') return 'nobody knows what it carries'
  return `${link.ceiling} ${link.by}`.trim()
}
const columns = computed(() => {
  const many = links.value.length >= MOST_LINKS
  const [stage, link] = many ? ['minmax(84px, 0.5fr)', 'minmax(160px, 1fr)'] : ['auto', 'minmax(190px, 1fr)']
  const middle = stages.value.slice(1).map(() => `${link} ${stage}`)
  return [before.value ? 'auto' : '', stage, ...middle, after.value ? 'auto' : ''].join(' ')
})
</script>

<template>
  <footer
    v-if="run"
    :class="{ thin: props.thin, ghost: job.ghost }"
    aria-label="The run from source to glass"
  >
    <template v-if="props.thin">
      <VerdictIcon :verdict="run.verdict" word />
      <b>{{ run.label }}</b>
      <span class="quiet">{{ run.stages.map((s) => s.label).join(' → ') }}</span>
      <span class="fig">{{ run.carried ?? run.asked }}</span>
    </template>
    <div v-else class="grid" :style="{ gridTemplateColumns: columns }">
      <span v-if="before" class="ticks" :title="left(0, before)">{{ before }} before</span>
      <template v-for="(stage, n) in stages" :key="stage.device">
        <div class="stage" :class="{ blocked: stage.blocked }">
          <b>{{ stage.label }}</b><span>{{ stage.line }}</span>
        </div>
        <div v-if="links[n]" class="link" :class="links[n].verdict">
          <span v-if="n + before === pinch && links[n].transport !== null" class="pinch">
            {{
              links[n].verdict === 'blocked'
                ? 'stops here'
                : links[n].verdict === 'unknown'
                  ? 'not known here'
                  : 'narrowest here'
            }}
          </span>
          <p>
            <span
              class="ink"
              :title="`${links[n].lead_label} · ${links[n].grade_name}, ${metres(links[n].length_mm)}`"
              >{{ links[n].lead_label
              }}<span class="roomy">
                · {{ links[n].grade_name }}, {{ metres(links[n].length_mm) }}</span
              ></span
            >
            <span class="fig ink">{{ loadText(links[n]) }}</span>
          </p>
          <div
            v-if="links[n].transport === null"
            class="tube scan"
            role="img"
            :aria-label="`Lead ${links[n].lead_label}: ${links[n].verdict}, ${loadText(links[n])}`"
          ></div>
          <div
            v-else
            class="tube"
            role="meter"
            :aria-label="`Lead ${links[n].lead_label}`"
            :aria-valuenow="Math.round(links[n].used_percent ?? 0)"
            aria-valuemin="0"
            :aria-valuemax="Math.max(100, Math.round(links[n].used_percent ?? 0))"
            :aria-valuetext="`${links[n].verdict}, ${loadText(links[n])}`"
          >
            <div class="load" :style="{ width: width(links[n]) }"></div>
          </div>
          <p>
            <span :title="below(links[n])">{{ below(links[n]) }}</span><VerdictIcon
              :verdict="links[n].verdict"
              word
            />
          </p>
        </div>
      </template>
      <div v-if="!links.length && stages.length > 1" class="gap">no lead joins them yet</div>
      <span v-if="after" class="ticks" :title="left(-after)">{{ after }} after</span>
    </div>
    <span v-if="repaintMs !== null && !props.thin" class="took" title="From your last edit to this picture">
      answered in {{ Math.round(repaintMs) }} ms
    </span>
  </footer>
</template>

<style scoped>
footer {
  grid-area: tape;
  border-top: 1px solid var(--rule-strong);
  background: var(--sunk);
  padding: 0 18px;
  overflow-x: auto;
  position: relative;
}
.took {
  position: absolute;
  right: 8px;
  bottom: 1px;
  font-size: 12px;
  color: var(--ink-3);
}
footer.ghost {
  border-top: 2px dashed var(--signal);
}
.thin {
  display: flex;
  gap: 14px;
  align-items: center;
  white-space: nowrap;
}
.grid {
  display: grid;
  align-items: center;
  height: 100%;
}
.stage {
  background: var(--plate);
  border: 1px solid var(--rule-strong);
  border-radius: var(--r);
  padding: 7px 12px;
  min-width: 84px;
  max-width: 230px;
}
.stage b {
  display: block;
  font-weight: 650;
}
.stage span {
  color: var(--ink-2);
  font-size: var(--small);
  line-height: 1.25;
  display: block;
}
.stage.blocked {
  border-color: var(--blocked);
}
.link {
  padding: 0 10px;
  position: relative;
  min-width: 0;
  container-type: inline-size;
}
@container (max-width: 265px) {
  .roomy {
    display: none;
  }
}
.link p {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  font-size: 13px;
  color: var(--ink-2);
  margin: 3px 0;
  white-space: nowrap;
}
@container (max-width: 190px) {
  .link p {
    font-size: 12px;
    gap: 5px;
  }
}
.link p > span:first-child {
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
}
.ink {
  color: var(--ink);
}
.tube {
  height: 20px;
  border: 1.5px solid var(--ink-2);
  border-left: 0;
  border-right: 0;
  position: relative;
  background: var(--plate);
}
/* an analogue link has no use and capacity: its lines, not a level */
.scan {
  background: repeating-linear-gradient(0deg, var(--rule-strong) 0 1px, var(--plate) 1px 5px);
}
.load {
  position: absolute;
  inset: 2px auto 2px 0;
  background: var(--signal);
}
.blocked .load {
  background: repeating-linear-gradient(135deg, var(--blocked) 0 5px, transparent 5px 8px);
  border-right: 2px solid var(--blocked);
}
.tight .load {
  background: repeating-linear-gradient(90deg, var(--tight) 0 7px, transparent 7px 9px);
}
.ghost .load {
  opacity: 0.6;
}
.pinch {
  position: absolute;
  top: -16px;
  right: 10px;
  font-size: 13px;
  font-weight: 650;
  color: var(--ink-2);
}
.blocked .pinch {
  color: var(--blocked);
}
.gap {
  grid-column: 2;
  grid-row: 1;
  border-top: 2px dashed var(--blocked);
  color: var(--blocked);
  font-size: 13px;
  text-align: center;
  margin: 0 10px;
}
.ticks {
  font-size: 12.5px;
  color: var(--ink-2);
  padding: 0 4px;
}
@media (max-width: 600px) {
  /* a list of stages, source first */
  footer {
    padding: 4px 12px;
    max-height: 136px;
    overflow: hidden auto;
  }
  .grid {
    display: block;
  }
  .stage {
    max-width: none;
    padding: 2px 8px;
  }
  .stage b,
  .stage span {
    display: inline;
    margin-right: 6px;
  }
  .link {
    padding: 0 0 0 14px;
    border-left: 3px solid var(--signal);
    margin-left: 10px;
  }
  .link.blocked {
    border-left: 3px dashed var(--blocked);
  }
  .tube,
  .ticks,
  .took {
    display: none;
  }
  .pinch {
    position: static;
    display: block;
  }
  .thin {
    flex-wrap: wrap;
    gap: 2px 8px;
    white-space: normal;
  }
}
@media print {
  footer {
    display: none;
  }
}
</style>
