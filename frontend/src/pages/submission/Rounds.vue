<script setup lang="ts">
import type { Submission } from '@/api/types'
import RequestList from '@/components/submission/RequestList.vue'
import RoundSheet from '@/components/submission/RoundSheet.vue'
import { counted } from '@/logic/words'

defineProps<{ submission: Submission }>()
</script>

<template>
  <div class="page">
    <p v-if="!submission.rounds.length" class="empty">
      <b>No round was sent yet.</b>
      {{
        submission.sendable
          ? `${counted(submission.sendable, 'record is', 'records are')} ready for the first.`
          : ''
      }}
    </p>
    <RequestList v-if="submission.requests" :submission="submission" />
    <RoundSheet
      v-for="round in [...submission.rounds].reverse()"
      :key="round.id"
      :submission="submission"
      :round="round"
    />
  </div>
</template>

<style scoped>
.page {
  flex: 1;
  overflow-y: auto;
  padding: 12px 16px 24px;
}
</style>
