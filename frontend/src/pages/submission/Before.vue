<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import PersonFields from '@/components/submission/PersonFields.vue'
import ReasonDialog from '@/components/ReasonDialog.vue'
import RuleList from '@/components/submission/RuleList.vue'
import { decide, getPersonOf, getRulesOf, translateCode } from '@/api/submissions'
import type { PersonInFull, RulesHere, Submission } from '@/api/types'
import { PREPARE } from '@/composables/useSession'
import { useSubmission } from '@/composables/useSubmission'
import { counted } from '@/logic/words'

const props = defineProps<{ submission: Submission }>()
const open = useSubmission()
const route = useRoute()
const router = useRouter()
const which = computed<'before' | 'warned'>(() =>
  route.query.which === 'warned' ? 'warned' : 'before',
)
const found = ref<RulesHere | null>(null)
const rule = ref('')
const record = ref<number | null>(null)
const person = ref<PersonInFull | null>(null)
const letting = ref(false)
const codes = ref<Record<string, string>>({})
const may = computed(() => props.submission.level >= PREPARE)
const current = computed(() => found.value?.rules.find((one) => one.rule === rule.value))

async function load(): Promise<void> {
  found.value = await getRulesOf(open.id, which.value)
  const same = found.value.rules.find((one) => one.rule === rule.value) ?? found.value.rules[0]
  rule.value = same?.rule ?? ''
  if (!same?.records.includes(record.value ?? -1)) record.value = same?.records[0] ?? null
  codes.value = Object.fromEntries((same?.translate ?? []).map((one) => [one.ours!, one.theirs!]))
}
function choose(name: string, number: number): void {
  rule.value = name
  record.value = number
  codes.value = Object.fromEntries(
    (current.value?.translate ?? []).map((one) => [one.ours!, one.theirs!]),
  )
}
const translate = (field: string, ours: string) =>
  open.act(() => translateCode(open.id, field, ours, codes.value[ours]!.trim()))
async function letAll(reason: string): Promise<void> {
  letting.value = false
  await open.act(() =>
    decide(open.id, {
      records: current.value?.records ?? [],
      kind: which.value === 'warned' ? 'pass' : 'let',
      rule: rule.value,
      reason,
    }),
  )
}

watch([() => props.submission.touched, which], load, { immediate: true })
watch(
  [record, rule, () => props.submission.touched],
  async () => {
    const number = record.value
    const full =
      number === null || !may.value
        ? null
        : await getPersonOf(open.id, number, rule.value).catch(() => null)
    if (number === record.value) person.value = full
  },
  { immediate: true },
)
</script>

<template>
  <div v-if="found" class="cols">
    <div class="left">
      <p class="switch" role="group" aria-label="What is listed">
        <button
          class="btn"
          :aria-pressed="which === 'before'"
          :class="{ fir: which === 'before' }"
          @click="router.replace({ query: {} })"
        >
          Known before sending</button
        ><button
          class="btn"
          :aria-pressed="which === 'warned'"
          :class="{ fir: which === 'warned' }"
          @click="router.replace({ query: { which: 'warned' } })"
        >
          Warnings {{ submission.warned || '' }}
        </button>
      </p>
      <RuleList
        :rules="found.rules"
        :records="found.records"
        :rule="rule"
        :record="record"
        :empty="
          which === 'before'
            ? `Nothing that ${submission.authority} is known to reject.`
            : 'No warning is open.'
        "
        @choose="choose"
      />
    </div>
    <div v-if="current" class="pane">
      <p class="flag" :class="{ stop: which === 'before' }">
        <b>{{ current.rule }}</b> {{ current.text }}
        <span class="soft">Reads: {{ current.reads.join(', ').toLowerCase() }}.</span>
      </p>
      <div v-for="one in current.translate" :key="one.field! + one.ours" class="code">
        <span
          ><b>{{ one.ours }}</b> goes as <span class="was">{{ one.sent }}</span> for
          {{ counted(Number(one.records), 'record') }}; send it as</span
        >
        <input
          v-model="codes[one.ours!]"
          class="box short"
          :aria-label="`Code of ${submission.authority} for ${one.ours}`"
          :disabled="!may"
        />
        <span class="soft">{{ codes[one.ours!] === one.theirs ? one.label : '' }}</span>
        <button
          v-if="may"
          class="btn main"
          :disabled="!codes[one.ours!]?.trim() || codes[one.ours!] === one.sent"
          @click="translate(one.field!, one.ours!)"
        >
          From now on, for {{ counted(Number(one.records), 'record') }}
        </button>
      </div>
      <p v-if="may" class="act">
        <button class="btn" @click="letting = true">
          {{
            which === 'warned'
              ? `Let ${counted(current.records.length, 'warning')} pass`
              : `Send ${counted(current.records.length, 'record')} all the same`
          }}</button><RouterLink
          v-if="person"
          class="btn"
          :to="`/rosters/${submission.roster}?record=${person.record}`"
          >Open the record</RouterLink
        >
      </p>
      <template v-if="person">
        <div class="head">
          <h2>{{ person.name }}</h2>
          <span class="mono">{{ person.key }}</span>
        </div>
        <PersonFields :person="person" :authority="submission.authority" />
      </template>
    </div>
    <div v-else class="empty pane">
      <h2>{{ which === 'before' ? 'Nothing is known to be wrong' : 'No warning is open' }}</h2>
      <p>
        {{
          which === 'before'
            ? `Every record keeps to the rules of ${submission.authority} that can be known here; ` +
              `others it alone can judge.`
            : ''
        }}
      </p>
    </div>
    <ReasonDialog
      :open="letting"
      :title="which === 'warned' ? 'Let the warnings pass' : 'Send all the same'"
      :said="
        which === 'warned'
          ? 'A warning never keeps a record back; this only says that somebody has looked.'
          : `${submission.authority} is likely to reject them; the reason is kept.`
      "
      :act="which === 'warned' ? 'Let pass' : 'Send all the same'"
      :usual="which === 'warned' ? ['looked at it'] : ['agreed with the Registry']"
      @done="letAll"
      @close="letting = false"
    />
  </div>
</template>

<style scoped>
.cols {
  flex: 1;
  display: flex;
  min-height: 0;
}
.left {
  display: flex;
  flex-direction: column;
  min-height: 0;
}
.left .rules {
  flex: 1;
  min-height: 0;
}
.switch {
  display: flex;
  gap: 6px;
  padding: 10px 0 0 12px;
}
.pane {
  flex: 1;
  min-width: 0;
  background: var(--snow);
  border: 1px solid var(--ink);
  border-right: 0;
  border-bottom: 0;
  margin-top: 10px;
  padding: 12px 18px 18px;
  overflow-y: auto;
}
.flag {
  font-size: 14px;
  padding: 8px 12px;
}
.code {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-top: 12px;
  flex-wrap: wrap;
}
.short {
  width: 90px;
  font-family: var(--mono);
}
.act {
  display: flex;
  gap: 8px;
  margin-top: 12px;
}
.head {
  display: flex;
  align-items: baseline;
  gap: 10px;
  margin-top: 18px;
}
</style>
