<script setup lang="ts">
import { ref } from 'vue'
import { message } from 'ant-design-vue'
import { putInstitution } from '@/api/accounts'
import { usePageTitle } from '@/composables/usePageTitle'
import { useSession } from '@/composables/useSession'

/** What the institution is called, and the colour of its mark. */
const session = useSession()
const name = ref(session.state.me?.institution ?? '')
const colour = ref(session.state.me?.colour ?? '#17494d')
const problem = ref('')
const busy = ref(false)
async function save(): Promise<void> {
  busy.value = true
  try {
    await putInstitution(name.value, colour.value)
    await session.look()
    problem.value = ''
    void message.success('Kept.', 3)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
usePageTitle(() => 'Institution')
</script>

<template>
  <section class="page">
    <h1>Institution</h1>
    <p class="soft">It stands in the top line and at the sign-in.</p>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <form @submit.prevent="save">
      <label
        >Name
        <input v-model="name" class="box" maxlength="120" />
      </label>
      <label
        >Colour of its mark
        <input v-model="colour" type="color" />
        <span class="mark" :style="{ background: colour }">{{
          (name || 'Nevefield').slice(0, 1)
        }}</span>
      </label>
      <button class="btn main" :disabled="busy">Save</button>
    </form>
  </section>
</template>

<style scoped src="./page.css"></style>
<style scoped>
.mark {
  display: inline-grid;
  place-items: center;
  width: 28px;
  height: 28px;
  color: #fff;
  font-weight: 600;
}
</style>
