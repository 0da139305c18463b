<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'
import { useMediaQuery } from '@vueuse/core'
import ChangeCell from './ChangeCell.vue'
import type { Family, FamilyDetail, Intake } from '@/api/types'
import { useCatalog } from '@/composables/useCatalog'
import { familyPeople, tellingOf, type Changed } from '@/composables/useChanges'
import { useIntake } from '@/composables/useIntake'
import { familyTitle } from '@/logic/changes'
import { count } from '@/logic/words'

/** Whom it concerns: the people of one kind of change beside its sentence, the largest first. */
const props = defineProps<{ intake: Intake; families: Family[] }>()
const SHOWN = 14
const catalog = useCatalog()
const { revision } = useIntake()
const chosen = ref('')
const people = shallowRef<Changed[]>([])
const detail = shallowRef<FamilyDetail | null>(null)
const total = ref(0)
const kinds = computed(() =>
  props.families.filter((one) => one.count).sort((a, b) => b.count - a.count),
)
const key = computed(() =>
  kinds.value.some((one) => one.key === chosen.value) ? chosen.value : (kinds.value[0]?.key ?? ''),
)
const field = computed(() => catalog.field(props.intake.roster, key.value))
const wide = useMediaQuery('(width >= 1500px)')
const telling = computed(() =>
  tellingOf(catalog.roster(props.intake.roster)).slice(0, wide.value ? 3 : 1),
)
const columns = computed(() =>
  key.value === 'join'
    ? telling.value.map((one) => one.name)
    : [key.value === 'absent' || key.value === 'beside' ? 'act' : key.value],
)
const column = (name: string) => ({ key: name, title: '', width: '' })

async function load(): Promise<void> {
  const asked = key.value
  if (!asked) return
  if (field.value?.code_list) await catalog.loadList(field.value.code_list).catch(() => undefined)
  const found = await familyPeople(props.intake.id, asked, telling.value, 0, SHOWN).catch(
    () => null,
  )
  if (asked !== key.value || !found) return
  people.value = found.rows
  detail.value = found.detail
  total.value = found.total
}
watch([revision, key, telling], () => void load(), { immediate: true })
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
  max-width: 180px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.who {
  min-width: 0;
  overflow: hidden;
}
.list {
  width: 100%;
}
</style>
