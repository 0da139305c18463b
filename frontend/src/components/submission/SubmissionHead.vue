<script setup lang="ts">
import { computed, ref } from 'vue'
import { Modal } from 'ant-design-vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import { closeSubmission, renameSubmission, sendRound } from '@/api/submissions'
import type { Submission } from '@/api/types'
import { APPROVE, PREPARE } from '@/composables/useSession'
import { useSubmission } from '@/composables/useSubmission'
import { STAGES } from '@/logic/stages'
import { wordSends } from '@/logic/standing'
import { count, counted, moment } from '@/logic/words'

const props = defineProps<{ submission: Submission; page: string }>()
const open = useSubmission()
const ALL = { value: '', label: 'all that is ready' }
const asking = ref(false)
const byHand = ref(false)

const last = computed(() => props.submission.rounds.at(-1))
const under = computed(() =>
  props.submission.rounds.find((one) => !['done', 'refused'].includes(one.state)),
)
const settled = computed(() => props.submission.tally.accepted)
const may = computed(() => props.submission.level >= APPROVE)
const next = computed(() => Math.max(0, ...props.submission.rounds.map((one) => one.number)) + 1)
const closed = computed(() => !!props.submission.closed)
const naming = ref(false)
const title = ref('')
/** A part that is sent alone: a field and its value; '' for all that is ready. */
const field = ref('')
const value = ref('')
const parts = computed(() =>
  props.submission.parts.filter((by) => by.parts.filter((one) => one.ready).length > 1),
)
const values = computed(
  () => parts.value.find((by) => by.field === field.value)?.parts.filter((one) => one.ready) ?? [],
)
const sends = computed(() =>
  field.value
    ? `${count(values.value.find((one) => one.code === value.value)?.ready ?? 0)} of ` +
      `${wordSends(props.submission.sends)}`
    : wordSends(props.submission.sends),
)
function choosePart(by: string | null): void {
  field.value = by ?? ''
  value.value = values.value[0]?.code ?? ''
}
async function rename(): Promise<void> {
  naming.value = false
  if (title.value.trim()) await open.act(() => renameSubmission(open.id, title.value.trim()))
}
const past = computed(() => props.submission.rounds.filter((one) => one.answered_at && one.number))
const most = computed(() => Math.max(1, ...past.value.map((one) => one.records)))
const pages = computed(() => [
  {
    path: 'contents',
    title: STAGES.contents,
    badge: count(props.submission.tally.records),
    bad: false,
  },
  {
    path: 'before',
    title: STAGES.before,
    badge: props.submission.broken ? count(props.submission.broken) : '✓',
    bad: !!props.submission.broken,
  },
  {
    path: 'rejected',
    title: STAGES.rejected,
    badge: count(props.submission.tally.rejected),
    bad: !!props.submission.tally.rejected,
  },
  {
    path: 'numbers',
    title: STAGES.numbers,
    badge: count(props.submission.tally.to_number),
    bad: false,
  },
  {
    path: 'rounds',
    title: STAGES.rounds,
    badge: count(props.submission.rounds.length),
    bad: false,
  },
])
const said = computed(() => {
  if (under.value) {
    const { number, said: words, state, done, records } = under.value
    const far = state === 'sent' && done ? `, ${count(done)} of ${count(records)} done` : ''
    return `round ${number}: ${words}${far}`
  }
  if (last.value?.state === 'refused') return `round ${last.value.number} was refused as a whole`
  return last.value?.answered_at
    ? `round ${last.value.number} answered ${moment(last.value.answered_at, new Date())}`
    : 'nothing was sent yet'
})

async function send(): Promise<void> {
  asking.value = false
  await open.act(() =>
    sendRound(
      open.id,
      props.submission.touched,
      byHand.value,
      field.value,
      field.value ? value.value : '',
    ),
  )
}

function beginNaming(): void {
  naming.value = true
  title.value = props.submission.title
}

function ask(): void {
  asking.value = true
  field.value = ''
  byHand.value = !props.submission.can_reach
}
</script>

<template>
  <div class="title">
    <div>
      <h1>
        {{ submission.title }} → {{ submission.authority
        }}<span v-if="submission.side === 'practice'" class="practice"
          >practice side: nothing goes into the roster</span
        ><span v-if="closed" class="closed">closed</span>
      </h1>
      <p class="soft" role="status">
        {{ said }} ·
        <template v-if="under && under.state !== 'taken'"
          >{{ count(under.records) }} on their way · </template
        >{{ count(settled) }} settled of {{ count(submission.tally.records)
        }}<template
          v-if="submission.forecast && submission.tally.accepted < submission.tally.records"
        >
          · {{ submission.forecast }}</template
        >
      </p>
    </div>
    <span class="grow" />
    <template v-if="past.length">
      <span class="soft small rej">rejected<br />by round</span>
      <div
        class="rounds"
        role="img"
        :aria-label="
          past
            .map(
              (one) =>
                `round ${one.number}: ${one.counts.rejected ?? 0} of ${one.records} rejected`,
            )
            .join('; ')
        "
      >
        <div
          v-for="one in past"
          :key="one.id"
          class="rd"
          :style="{ height: `${Math.max(8, 34 * Math.sqrt(one.records / most))}px` }"
        >
          <i
            :style="{
              height: `${one.counts.rejected ? Math.max(3, 34 * Math.sqrt((one.counts.rejected ?? 0) / most)) : 0}px`,
            }"
          />
        </div>
      </div>
    </template>
    <button v-if="submission.level >= PREPARE" class="btn" @click="beginNaming">Rename</button>
    <button
      v-if="may"
      class="btn"
      :disabled="!!under"
      :title="
        closed
          ? 'It goes on where it stood'
          : 'It can be looked at still; nothing is sent or decided until it is opened again'
      "
      @click="open.act(() => closeSubmission(open.id, closed))"
    >
      {{ closed ? 'Open it again' : 'Close it' }}
    </button>
    <button
      v-if="may && !closed"
      class="btn main"
      :disabled="!submission.sendable || !!under"
      @click="ask"
    >
      {{
        under
          ? `Round ${under.number} is under way`
          : submission.sendable
            ? `Send round ${next}: ${wordSends(submission.sends)}`
            : 'Nothing is ready'
      }}
    </button>
  </div>
  <nav class="stages" aria-label="Parts of the submission">
    <RouterLink
      v-for="one in pages"
      :key="one.path"
      :to="`/submissions/${submission.id}/${one.path}`"
      :class="{ on: page === one.path }"
      :aria-current="page === one.path ? 'page' : undefined"
      >{{ one.title }} <i :class="{ n: one.bad }">{{ one.badge }}</i></RouterLink
    >
  </nav>
  <Modal
    destroy-on-close
    :open="naming"
    title="Another title"
    :footer="null"
    :width="440"
    @cancel="naming = false"
  >
    <form @submit.prevent="rename">
      <input v-model="title" class="box wide" maxlength="200" aria-label="Title" />
      <p class="do">
        <button class="btn main" :disabled="!title.trim()">Rename it</button
        ><button type="button" class="btn" @click="naming = false">Cancel</button>
      </p>
    </form>
  </Modal>
  <Modal
    destroy-on-close
    :open="asking"
    :title="`Send round ${next} to ${submission.authority}`"
    :footer="null"
    :width="520"
    @cancel="asking = false"
  >
    <p v-if="parts.length" class="part">
      Send
      <ChooseOne
        :model-value="field"
        :options="[
          ALL,
          ...parts.map((by) => ({ value: by.field, label: `one ${by.title.toLowerCase()}` })),
        ]"
        label="Which part"
        @update:model-value="choosePart"
      />
      <ChooseOne
        v-if="field"
        v-model="value"
        :options="
          values.map((one) => ({ value: one.code, label: `${one.value}: ${count(one.ready)}` }))
        "
        label="Its value"
      />
    </p>
    <p>
      <b>{{ sends }}</b> would be sent{{
        submission.side === 'practice' ? ', to the practice side' : ''
      }}. It has a key of its own: whatever breaks off on the way, it is sent once.
    </p>
    <template v-if="submission.behind.length">
      <h3 class="behind">Stays behind</h3>
      <ul>
        <li v-for="one in submission.behind" :key="String(one.said)">
          {{ counted(Number(one.records), 'record') }}: {{ one.said }}
        </li>
      </ul>
    </template>
    <p class="how">
      <label
        ><input v-model="byHand" type="checkbox" :disabled="!submission.can_reach" /> write it as a
        file that I take there myself, and bring the answer back</label
      >
    </p>
    <p class="do">
      <button class="btn main" @click="send">
        {{ byHand ? `Write round ${next}` : `Send round ${next}` }}</button><button
        class="btn"
        @click="asking = false"
      >
        Cancel
      </button>
    </p>
  </Modal>
</template>

<style scoped src="../head.css"></style>
<style scoped>
.practice {
  margin-left: 10px;
  background: repeating-linear-gradient(135deg, #15212a 0 6px, #2b3a44 6px 12px);
  color: #fff;
  padding: 2px 8px;
  font-size: 12px;
  font-weight: 400;
  white-space: nowrap;
}
.closed {
  margin-left: 10px;
  border: 1px solid var(--line);
  padding: 1px 8px;
  font-size: 12px;
  font-weight: 400;
}
.part {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-bottom: 8px;
}
.wide {
  width: 100%;
  margin-bottom: 12px;
}
.rej {
  text-align: right;
  font-size: 12px;
  line-height: 14px;
  padding-top: 4px;
}
.rounds {
  display: flex;
  align-items: flex-end;
  gap: 5px;
  height: 36px;
}
.rd {
  width: 14px;
  background: var(--same);
  position: relative;
}
.rd i {
  position: absolute;
  left: 0;
  right: 0;
  top: 0;
  background: var(--stopped);
}
.behind {
  margin: 12px 0 4px;
}
.how {
  margin: 12px 0;
}
.do {
  display: flex;
  gap: 8px;
}
</style>
