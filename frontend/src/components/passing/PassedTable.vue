<script setup lang="ts">
import MovedParts from './MovedParts.vue'
import type { PassedRow } from '@/api/types'
import { actOf, standsIn } from '@/logic/passing'
import { moment } from '@/logic/words'

/** Records and what sending would change of each; arrows go from one to the next. */
const props = defineProps<{ rows: PassedRow[]; mayDecide: boolean }>()
const emit = defineEmits<{ hold: [record: number]; let: [record: number] }>()
const chosen = defineModel<PassedRow | null>('chosen', { required: true })
const now = new Date()

function choose(step: number): void {
  const place = props.rows.findIndex((one) => one === chosen.value)
  chosen.value = props.rows[Math.max(0, Math.min(props.rows.length - 1, place + step))] ?? null
}
</script>

<template>
  <table class="list" @keydown.down.prevent="choose(1)" @keydown.up.prevent="choose(-1)">
    <thead>
      <tr>
        <th>Stands</th>
        <th>Who</th>
        <th>What</th>
        <th>Because of</th>
        <th>Since</th>
        <th v-if="mayDecide"><span class="unseen">Hold</span></th>
      </tr>
    </thead>
    <tbody>
      <tr
        v-for="row in rows"
        :key="row.record"
        class="click"
        :class="{ on: row === chosen }"
        @click="chosen = row"
      >
        <td>
          <span v-if="row.act && row.place !== 'held'" class="act" :class="actOf(row).look"
            ><span aria-hidden="true">{{ actOf(row).sign }}</span> {{ actOf(row).word }}</span
          ><span v-else class="soft">{{ standsIn(row.place)?.word }}</span>
        </td>
        <td>
          <button class="link" :aria-pressed="row === chosen">{{ row.name || row.key }}</button>
        </td>
        <td class="what">
          <span v-if="row.place === 'refused'" class="bad">{{
            row.problem || 'refused'
          }}</span><span v-else-if="row.held_reason" class="soft">{{ row.held_reason }}</span
          ><MovedParts v-else :row="row" />
        </td>
        <td>
          <RouterLink v-if="row.receipt" :to="`/receipts/${row.receipt}`">{{
            row.because
          }}</RouterLink><template v-else>{{ row.because }}</template>
        </td>
        <td class="mono">{{ row.at ? moment(row.at, now) : '' }}</td>
        <td v-if="mayDecide">
          <button
            v-if="row.place === 'held'"
            class="link"
            :aria-label="`Let ${row.name || row.key} go again`"
            @click.stop="emit('let', row.record)"
          >
            Let go</button
          ><button
            v-else-if="row.act"
            class="link"
            :aria-label="`Hold ${row.name || row.key} back`"
            @click.stop="emit('hold', row.record)"
          >
            Hold
          </button>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.act {
  white-space: nowrap;
}
.joins {
  color: var(--new-ink);
}
.changes {
  color: var(--changed-ink);
}
.ends {
  color: var(--absent-ink);
}
.privilege {
  color: var(--stopped-ink);
}
td:nth-child(2),
td.what {
  white-space: normal;
}
td.what {
  overflow-wrap: anywhere;
}
.link {
  min-height: 24px;
  text-align: left;
}
</style>
