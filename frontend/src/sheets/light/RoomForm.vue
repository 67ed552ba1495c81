<script setup lang="ts">
// The light a screen stands in, and what that asks of its white.
import type { LightScreen, Op } from '../../api/client'
import { useJob } from '../../shared/job'
import { mayEdit } from '../../shared/session'
import { figure, TIMES } from './words'

const props = defineProps<{ light: LightScreen }>()
const job = useJob()
const LIGHTS = [
  ['', 'not noted'],
  ['dark', 'dark'],
  ['lit', 'lamps on'],
  ['bright', 'bright'],
] as const

function keep(change: Partial<Pick<LightScreen, 'day' | 'night' | 'seat_mm' | 'glare'>>) {
  const now = {
    day: props.light.day,
    night: props.light.night,
    seat_mm: props.light.seat_mm,
    glare: props.light.glare,
  }
  const value = { ...now, ...change }
  const op = { op: 'set_fact', device: props.light.device, path: 'room_light', value } as Op
  void job.change([op], `light of the room at ${props.light.label}`)
}
const picked = (event: Event) => (event.target as HTMLSelectElement).value || null
function seat(event: Event) {
  const metres = figure((event.target as HTMLInputElement).value)
  keep({ seat_mm: Number.isFinite(metres) && metres > 0 ? Math.round(metres * 1000) : null })
}
</script>

<template>
  <section aria-label="The room">
    <h2>The room</h2>
    <div class="fields">
      <label for="room-night">In the evening</label>
      <select
        id="room-night"
        :value="light.night ?? ''"
        :disabled="!mayEdit()"
        @change="keep({ night: picked($event) })"
      >
        <option v-for="[id, name] in LIGHTS" :key="id" :value="id">{{ name }}</option>
      </select>
      <label for="room-day">By day</label>
      <select
        id="room-day"
        :value="light.day ?? ''"
        :disabled="!mayEdit()"
        @change="keep({ day: picked($event) })"
      >
        <option v-for="[id, name] in LIGHTS" :key="id" :value="id">{{ name }}</option>
      </select>
      <label for="room-seat">Seat, metres away</label>
      <input
        id="room-seat"
        inputmode="decimal"
        :value="light.seat_mm ? light.seat_mm / 1000 : ''"
        :disabled="!mayEdit()"
        @change="seat"
      />
      <label for="room-glare">Light falls on the glass by day</label>
      <input
        id="room-glare"
        type="checkbox"
        :checked="light.glare"
        :disabled="!mayEdit()"
        @change="keep({ glare: ($event.target as HTMLInputElement).checked })"
      />
    </div>
    <dl>
      <template v-for="t in light.targets" :key="t.time">
        <dt>
          White {{ TIMES[t.time] }}: <b class="fig">{{ t.low }} to {{ t.high }}</b> cd/m², aim {{ t.aim }}
        </dt>
        <dd class="small quiet"><template v-if="t.guess">A guess of the room: </template>{{ t.why }}</dd>
      </template>
    </dl>
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  grid-template-columns: 1fr 120px;
  gap: 6px 10px;
  align-items: center;
  margin: 6px 0 10px;
}
dd {
  margin: 0 0 8px;
}
input[type='checkbox'] {
  justify-self: start;
}
</style>
