<script setup lang="ts">
import KeyCap from '@/components/controls/KeyCap.vue'
import type { Value } from '@/api/types'
import ProposalBox from '@/components/ProposalBox.vue'
import UndoCell from '@/components/receipt/UndoCell.vue'
import UndoFields from '@/components/receipt/UndoFields.vue'
import VirtualTable, { type TableColumn } from '@/components/VirtualTable.vue'
import NotHere from '@/components/NotHere.vue'
import { useKeys } from '@/composables/useKeys'
import { PREPARE } from '@/composables/useSession'
import { useTakeBack } from '@/composables/useTakeBack'
import { usePageTitle } from '@/composables/usePageTitle'
import { counted, momentInFull, show } from '@/logic/words'

const { receipt, undo, proposal, problem, working, selected, pages, whole, person, ...given } =
  useTakeBack()
const { fieldsKept, kept, level, goes, isPart, proposes, sentence } = given
const { load, toggle, toggleField, act, approved } = given
const columns: TableColumn[] = [
  { key: 'tick', title: '', width: '46px' },
  { key: 'key', title: 'Key', width: '120px', mono: true },
  { key: 'name', title: 'Name', width: 'minmax(160px, 1fr)' },
  { key: 'does', title: 'What would be', width: 'minmax(320px, 3fr)' },
]
const label = (value: Value) => show(value) || 'empty'
const step = (by: number) =>
  (selected.value = Math.max(0, Math.min(pages.total.value - 1, selected.value + by)))

useKeys({
  ArrowDown: () => step(1),
  ArrowUp: () => step(-1),
  x: () => toggle(pages.at(selected.value)),
})
usePageTitle(() => receipt.value && `Take back receipt ${receipt.value.id}: ${receipt.value.title}`)
</script>

<template>
  <div class="page">
    <section v-if="receipt" class="sheet">
      <h1>
        {{
          undo ? `Taking back “${receipt.title}” would do this` : `Taking back “${receipt.title}”`
        }}
      </h1>
      <p class="soft">
        Receipt {{ receipt.id }} of {{ momentInFull(receipt.at)
        }}{{ receipt.by ? ` by ${receipt.by}` : '' }} ·
        <RouterLink :to="`/receipts/${receipt.id}`">look at it</RouterLink>
      </p>
      <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
      <template v-if="undo">
        <p class="said">
          {{ sentence }}
          <template v-if="receipt.kind === 'intake'"
            >The file and every step stay, so that it can be applied again.</template
          >
        </p>
        <p v-if="undo.kept" class="flag">
          <b>{{ counted(undo.kept, 'record was', 'records were') }} changed again later</b>, so
          {{ undo.kept === 1 ? 'it keeps' : 'they keep' }} what rests on that; they stand at the end
          of the list, each with the later file. Take that back first if it is to go.
        </p>
        <UndoFields
          v-if="whole?.families.length"
          :families="whole.families"
          :kept="fieldsKept"
          :fixed="!!proposal"
          @toggle="toggleField"
        />
        <VirtualTable
          v-if="pages.total.value"
          label="Who would be taken back"
          :columns="columns"
          :pages="pages"
          :selected="selected"
          class="people"
          @choose="(index) => (selected = index)"
          @open="(index) => toggle(pages.at(index))"
        >
          <template #cell="{ row, column }">
            <UndoCell
              :row="row"
              :column="column"
              :roster="receipt.roster"
              :kept="kept.has(row.record)"
              :fixed="!!proposal"
              @toggle="toggle(row)"
            />
          </template>
        </VirtualTable>
        <p v-if="person?.moves.length" class="full" aria-live="polite">
          <b>{{ person.name }}</b>:
          <template v-for="move in person.moves" :key="move.field"
            ><span class="soft">{{ move.title }}</span>
            <span class="was">{{ label(move.now) }}</span><span class="arrow">→</span
            ><b class="will">{{ label(move.then) }}</b
            >&ensp;</template
          >
        </p>
        <ProposalBox
          v-if="proposal"
          :proposal="proposal"
          :act="`take back ${counted(proposal.counts.taken_back ?? 0, 'record')}`"
          @done="approved"
          @decided="load"
        />
        <div class="do">
          <button
            v-if="goes > 0 && !proposal"
            class="btn main"
            :disabled="working || level < PREPARE"
            @click="act"
          >
            {{
              working
                ? 'Working …'
                : `${proposes ? 'Propose to take back' : 'Take back'} ${counted(goes, 'record')}`
            }}
          </button>
          <RouterLink class="btn" :to="`/receipts/${receipt.id}`">Cancel</RouterLink>
          <p v-if="undo.why && !proposal" class="soft">Here {{ undo.why }}.</p>
          <p v-else-if="isPart && goes > 0" class="soft">
            Only a part of the receipt: the rest of it stands, and can be taken back later.
          </p>
          <p v-if="pages.total.value && !proposal" class="soft keys">
            <KeyCap of="X" /> leave this person as it is
          </p>
        </div>
      </template>
    </section>
    <NotHere
      v-else-if="problem"
      title="This receipt cannot be opened"
      :problem="problem"
      to="/"
      back="Go to the desk"
    />
  </div>
</template>

<style scoped>
.page {
  flex: 1;
  min-width: 0;
  display: flex;
  padding: 14px 0 0 14px;
}
.sheet {
  flex: 1;
  min-width: 0;
  background: var(--snow);
  border: 1px solid var(--ink);
  border-width: 1px 0 0 1px;
  padding: 20px 26px 14px;
  display: flex;
  flex-direction: column;
  gap: 8px;
}
h1 {
  font-size: 19px;
  line-height: 26px;
}
.said {
  font-size: 15px;
}
.people {
  margin: 4px -26px 0;
  flex: 1;
  min-height: 120px;
}
.full {
  overflow-wrap: anywhere;
  border-top: 1px solid var(--line);
  padding-top: 8px;
}
.do {
  display: flex;
  gap: 12px;
  align-items: center;
  padding-top: 8px;
  flex-wrap: wrap;
}
.keys {
  margin-left: auto;
}
</style>
