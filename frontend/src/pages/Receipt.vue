<script setup lang="ts">
import { onMounted, ref, shallowRef } from 'vue'
import { useRoute } from 'vue-router'
import ReceiptSheet from '@/components/ReceiptSheet.vue'
import NotHere from '@/components/NotHere.vue'
import { getIntake } from '@/api/intakes'
import { getChangeSet } from '@/api/rosters'
import type { ChangeSet, Intake } from '@/api/types'
import { usePageTitle } from '@/composables/usePageTitle'

const route = useRoute()
const receipt = shallowRef<ChangeSet | null>(null)
const intake = shallowRef<Intake | null>(null)
const problem = ref('')

async function load(): Promise<void> {
  try {
    receipt.value = await getChangeSet(Number(route.params.id))
    intake.value = receipt.value.intake
      ? await getIntake(receipt.value.intake).catch(() => null)
      : null
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  }
}
onMounted(() => void load())
usePageTitle(() => receipt.value && `Receipt ${receipt.value.id}: ${receipt.value.title}`)
</script>

<template>
  <div class="page">
    <NotHere
      v-if="problem"
      title="This receipt cannot be opened"
      :problem="problem"
      to="/"
      back="Go to the desk"
    />
    <h1 v-if="receipt" class="unseen">Receipt {{ receipt.id }}</h1>
    <ReceiptSheet v-if="!problem && receipt" :receipt="receipt" :intake="intake" />
  </div>
</template>

<style scoped>
.page {
  flex: 1;
  min-width: 0;
  overflow: auto;
  padding: 14px 0 0 14px;
}
@media print {
  .page {
    padding: 0;
    overflow: visible;
  }
}
</style>
