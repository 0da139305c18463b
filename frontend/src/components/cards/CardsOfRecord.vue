<script setup lang="ts">
import { ref, watch } from 'vue'
import { getCardsOf } from '@/api/cards'
import type { CardsOfPerson } from '@/api/types'
import { day } from '@/logic/words'

/** The cards of a person, and their photograph, in their record. */
const props = defineProps<{ record: number }>()
const found = ref<CardsOfPerson | null>(null)

watch(
  () => props.record,
  async (record) => {
    found.value = null
    // without it the record is shown as it is
    found.value = await getCardsOf(record).catch(() => null)
  },
  { immediate: true },
)
</script>

<template>
  <template v-if="found && (found.designs.length || found.has_photo)">
    <h3>Cards</h3>
    <div class="both">
      <img
        v-if="found.has_photo"
        class="photo"
        :src="`/api/records/${record}/photo`"
        alt="Photograph"
      />
      <ul>
        <li v-for="one in found.designs" :key="one.design">
          <RouterLink :to="`/cards/${one.design}/needed?q=${encodeURIComponent(one.key)}`">{{
            one.title
          }}</RouterLink>
          <p v-for="card in [...one.cards].reverse()" :key="card.card">
            <span class="mono">{{
              card.facility ? `${card.facility}·${card.number}` : card.number
            }}</span>
            {{ card.is_good ? 'in use' : card.state.toLowerCase() || 'out of use' }}
            <span v-if="card.until" class="soft">until {{ day(card.until) }}</span>
          </p>
          <p v-if="!one.cards.length" class="soft">none yet</p>
        </li>
      </ul>
    </div>
  </template>
</template>

<style scoped>
.both {
  display: flex;
  gap: 12px;
  margin: 6px 0 16px;
}
.photo {
  width: 66px;
  height: 84px;
  object-fit: cover;
}
</style>
