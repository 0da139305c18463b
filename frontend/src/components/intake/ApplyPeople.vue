<script setup lang="ts">
import ChangeCell from './ChangeCell.vue'
import type { Family, Intake } from '@/api/types'
import { useApplyPeople } from '@/composables/useApplyPeople'
import { familyTitle } from '@/logic/changes'
import { count } from '@/logic/words'

/** Whom it concerns: the people of one kind of change beside its sentence, the largest first. */
const props = defineProps<{ intake: Intake; families: Family[] }>()
const { chosen, people, detail, total, kinds, key, field, telling, columns, column } =
  useApplyPeople(props)
</script>

<template>
  <section v-if="kinds.length" class="who" aria-label="Whom it concerns">
    <p class="kinds" role="group" aria-label="Kinds of change">
      <button
        v-for="one in kinds"
        :key="one.key"
        class="plain"
        :class="{ on: one.key === key }"
        :aria-pressed="one.key === key"
        @click="chosen = one.key"
      >
        {{ one.title }} <span class="soft">{{ count(one.count) }}</span>
      </button>
    </p>
    <table class="list">
      <caption class="unseen">
        {{
          familyTitle(key, total, intake, field)
        }}
      </caption>
      <tbody>
        <tr v-for="row in people" :key="`${row.line} ${row.key}`">
          <td class="mono">{{ row.key }}</td>
          <td>{{ row.name }}</td>
          <td v-for="name in columns" :key="name">
            <ChangeCell
              :row="row"
              :column="column(name)"
              :kind="key"
              :detail="detail"
              :field="field"
              :telling="telling"
              :may="false"
            />
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="total > people.length">
      <RouterLink :to="`/intakes/${intake.id}/changes?family=${key}`"
        >All {{ count(total) }}</RouterLink
      >
    </p>
  </section>
</template>

<style scoped>
.kinds {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  border-bottom: 1px solid var(--line);
  margin-bottom: 4px;
}
.kinds .plain {
  padding: 4px 0;
  border-bottom: 2px solid transparent;
}
.kinds .plain.on {
  border-bottom-color: var(--fir);
  font-weight: 600;
}
td {
  max-width: 160px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
td:nth-child(n + 3) {
  max-width: none;
  white-space: normal;
  overflow-wrap: anywhere;
}
@media (width < 1200px) {
  .who {
    margin-top: 24px;
  }
}
.who {
  min-width: 0;
  overflow: hidden;
}
.list {
  width: 100%;
}
</style>
