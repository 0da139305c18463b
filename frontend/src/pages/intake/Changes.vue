<script setup lang="ts">
import { computed, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import KeyCap from '@/components/controls/KeyCap.vue'
import AbsentBar from '@/components/intake/AbsentBar.vue'
import ChangeCell from '@/components/intake/ChangeCell.vue'
import ChangeRule from '@/components/intake/ChangeRule.vue'
import FamilyList from '@/components/intake/FamilyList.vue'
import MoveMatrix from '@/components/intake/MoveMatrix.vue'
import ReasonDialog from '@/components/ReasonDialog.vue'
import VirtualTable, { type TableColumn } from '@/components/VirtualTable.vue'
import { useCatalog } from '@/composables/useCatalog'
import { useChanges, type Changed } from '@/composables/useChanges'
import { useIntake } from '@/composables/useIntake'
import { useKeys } from '@/composables/useKeys'
import { familyNote, familyTitle } from '@/logic/changes'

const router = useRouter()
const catalog = useCatalog()
const open = useIntake()
const { id, intake } = open
const { changes, moves, detail, problem, selected, pages, key, family, field, ...given } =
  useChanges()
const { isField, isBeside, telling, may, choose, move } = given
/** Somebody who would join and is to be left out, with a reason. */
const leaving = shallowRef<Changed | null>(null)
const title = computed(() => familyTitle(key.value, pages.total.value, intake.value, field.value))
const note = computed(() => familyNote(key.value, intake.value, family.value))
const columns = computed<TableColumn[]>(() => [
  ...(isField.value || key.value === 'absent' ? [{ key: 'tick', title: '', width: '46px' }] : []),
  ...(key.value === 'absent' || isBeside.value
    ? []
    : [{ key: 'line', title: 'line', width: '60px', mono: true, right: true }]),
  {
    key: 'key',
    title:
      catalog.roster(intake.value?.roster ?? '')?.fields.find((one) => one.is_key)?.title ?? 'Key',
    width: '120px',
    mono: true,
  },
  { key: 'name', title: 'Name', width: 'minmax(180px, 1fr)' },
  ...(key.value === 'join'
    ? telling.value.map((one) => ({
        key: one.name,
        title: one.title,
        width: 'minmax(110px, 1fr)',
        mono: one.mono,
      }))
    : []),
  ...(isField.value || isBeside.value
    ? [{ key: 'change', title: field.value?.title ?? 'Ends', width: 'minmax(280px, 2fr)' }]
    : []),
  ...(key.value === 'absent'
    ? [{ key: 'act', title: 'What becomes of them', width: 'minmax(200px, 1fr)' }]
    : []),
])

function tick(person: Changed | undefined): void {
  if (key.value !== 'join') given.tick(person)
  else if (person?.line && may.value) leaving.value = person
}
function leaveOut(reason: string): void {
  const line = leaving.value?.line
  leaving.value = null
  if (line) void open.add({ kind: 'leave_out', lines: [line], reason })
}
const step = (by: number) =>
  (selected.value = Math.max(0, Math.min(pages.total.value - 1, selected.value + by)))
function openRow(): void {
  const person = pages.at(selected.value)
  if (person?.line)
    void router.push({ path: `/intakes/${id}/problems`, query: { line: person.line } })
  else if (person?.record)
    void router.push({ path: `/rosters/${intake.value?.roster}`, query: { record: person.record } })
}

useKeys({
  ArrowDown: () => step(1),
  ArrowUp: () => step(-1),
  ']': () => move(1),
  '[': () => move(-1),
  '.': () => move(1),
  ',': () => move(-1),
  Enter: openRow,
  x: () => tick(pages.at(selected.value)),
})
</script>

<template>
  <div class="cols">
    <FamilyList :changes="changes" :selected="key" :tally="intake?.tally" @choose="choose" />
    <section class="detail" aria-label="The changes of one kind">
      <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
      <h2>
        {{ title }} <span v-if="moves.length" class="soft">from the row’s to the column’s</span>
      </h2>
      <p v-if="note" :class="family?.taken_away && isField ? 'flag stop' : 'soft'">{{ note }}</p>
      <ChangeRule
        v-if="isField && detail?.rules.length"
        :field="key"
        :family="family"
        :detail="detail"
        :several="!!field?.several"
        :may="may"
        @step="open.add"
      />
      <div v-if="key === 'absent' && intake?.unusual" class="flag">
        <b>{{ intake.unusual.said }}</b> {{ intake.unusual.reason }}
        <button
          v-if="intake.unusual.part"
          class="btn"
          :disabled="!may"
          @click="open.add({ kind: 'coverage', of: 'part', when: intake.unusual.part })"
        >
          {{ intake.unusual.part_said }}
        </button>
      </div>
      <AbsentBar
        v-if="key === 'absent' && intake && detail?.total"
        :intake="intake"
        :detail="detail"
        :fields="catalog.roster(intake.roster)?.fields ?? []"
        :may="may"
        @step="open.add"
      />
      <MoveMatrix v-if="moves.length && field" :moves="moves" :list="field.code_list" />
      <VirtualTable
        v-if="pages.total.value"
        :label="title"
        :columns="columns"
        :pages="pages"
        :selected="selected"
        class="people"
        @choose="(index) => (selected = index)"
        @open="openRow"
      >
        <template #cell="{ row, column }">
          <ChangeCell
            :row="row"
            :column="column"
            :kind="key"
            :detail="detail"
            :field="field"
            :telling="telling"
            :may="may"
            @tick="tick(row)"
          />
        </template>
      </VirtualTable>
      <p v-else-if="!pages.loading.value && changes" class="empty">Nothing of this kind.</p>
      <p v-if="pages.total.value" class="keys soft">
        <KeyCap of="Enter" /> open the row
        <template v-if="isField"><KeyCap of="X" /> keep the roster’s for this person </template
        ><template v-else-if="key === 'absent'"><KeyCap of="X" /> not this person </template
        ><template v-else-if="!isBeside"><KeyCap of="X" /> leave this person out </template
        ><KeyCap of="[" /> <KeyCap of="]" /> previous, next kind of change
      </p>
    </section>
    <ReasonDialog
      :open="!!leaving"
      :title="`Leave ${leaving?.name} out`"
      said="The row does not go in now; it stays with the intake, with its reason, and can be taken back in."
      act="Leave it out"
      :usual="['joins later', 'is no member']"
      @done="leaveOut"
      @close="leaving = null"
    />
  </div>
</template>

<style scoped>
.cols {
  flex: 1;
  display: flex;
  min-height: 0;
}
.detail {
  flex: 1;
  min-width: 0;
  background: var(--snow);
  border-left: 1px solid var(--ink);
  padding: 12px 16px 8px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
h2 .soft {
  font-size: 13.5px;
  font-weight: 400;
  margin-left: 8px;
}
.people {
  margin: 2px -16px 0;
}
.keys {
  font-size: 13px;
}
</style>
