<script setup lang="ts">
import { computed, ref } from 'vue'
import ReasonDialog from './ReasonDialog.vue'
import { approveProposal, sendBack, withdraw } from '@/api/proposals'
import type { Proposal, ProposalDone } from '@/api/types'
import { momentInFull } from '@/logic/words'

const props = defineProps<{ proposal: Proposal; act: string }>()
const emit = defineEmits<{ done: [done: ProposalDone]; decided: [] }>()

const asking = ref(false)
const working = ref(false)
const problem = ref('')
const isOpen = computed(() => props.proposal.state === 'open')
const said = computed(() => {
  const one = props.proposal
  if (one.is_stale)
    return (
      'It was worked on after it was proposed, so what was proposed is not what stands here. ' +
      'It has to be proposed again.'
    )
  if (one.state === 'sent_back') return `${one.decider} sent it back: “${one.reason}”`
  if (one.state === 'approved')
    return `${one.decider} approved it; ${one.kind === 'definition' ? 'it was put in force' : 'it is being done'}.`
  return one.is_mine
    ? 'It needs the approval of somebody else. Nobody can change what they approve.'
    : 'What stands here is exactly what was proposed. When you approve it, it is done.'
})

async function run(send: () => Promise<ProposalDone>, isDone: boolean): Promise<void> {
  working.value = true
  problem.value = ''
  try {
    const done = await send()
    if (isDone) emit('done', done)
    else emit('decided')
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    working.value = false
  }
}
const approve = () => run(() => approveProposal(props.proposal.id), true)
const back = (reason: string) => {
  asking.value = false
  void run(() => sendBack(props.proposal.id, reason), false)
}
</script>

<template>
  <section
    class="flag proposal"
    :class="{ stop: proposal.state === 'sent_back' }"
    aria-label="Proposal"
  >
    <p>
      <b
        >{{ proposal.state === 'sent_back' ? 'Sent back' : 'Proposed' }} by
        {{ proposal.state === 'sent_back' ? proposal.decider : proposal.by || 'somebody' }}</b
      >
      ·
      {{
        momentInFull(
          proposal.state === 'sent_back' && proposal.decided_at ? proposal.decided_at : proposal.at,
        )
      }}<template v-if="proposal.why"> · {{ proposal.why }}</template>
    </p>
    <p>{{ said }}</p>
    <p v-if="problem" class="bad" role="alert">{{ problem }}</p>
    <p v-if="isOpen" class="do">
      <button
        v-if="proposal.may_approve && !proposal.is_stale"
        class="btn main"
        :disabled="working"
        @click="approve"
      >
        Approve and {{ act }}
      </button>
      <button v-if="proposal.may_approve" class="btn" :disabled="working" @click="asking = true">
        Send back …
      </button>
      <button
        v-if="proposal.is_mine"
        class="btn"
        :disabled="working"
        @click="run(() => withdraw(proposal.id), false)"
      >
        Withdraw it
      </button>
    </p>
    <ReasonDialog
      :open="asking"
      title="Send the proposal back"
      :said="`${proposal.by || 'Who proposed it'} reads the reason on the desk and with the proposal. Nothing is done.`"
      act="Send it back"
      @done="back"
      @close="asking = false"
    />
  </section>
</template>

<style scoped>
.proposal {
  max-width: 780px;
  margin-top: 16px;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 8px;
}
</style>
