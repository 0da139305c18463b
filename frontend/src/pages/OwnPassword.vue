<script setup lang="ts">
import { ref } from 'vue'
import { message } from 'ant-design-vue'
import { useRouter } from 'vue-router'
import SecondStep from '@/components/setup/SecondStep.vue'
import { putPassword } from '@/api/accounts'
import { usePageTitle } from '@/composables/usePageTitle'
import { useSession } from '@/composables/useSession'

/** One's own password is changed by who knows the old one. */
const router = useRouter()
const session = useSession()
const old = ref('')
const fresh = ref('')
const problem = ref('')
const busy = ref(false)
async function change(): Promise<void> {
  busy.value = true
  try {
    await putPassword(old.value, fresh.value)
    void message.success('Your password is changed; everywhere else you are signed out.', 5)
    await router.push('/')
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
usePageTitle(() => 'How you sign in')
</script>

<template>
  <section class="page">
    <h1>How you sign in</h1>
    <p class="soft">{{ session.state.me?.name }}, signed in as {{ session.state.me?.sign_in }}.</p>
    <h2 class="first">Password</h2>
    <form @submit.prevent="change">
      <label
        >Password so far
        <input v-model="old" class="box" type="password" autocomplete="current-password" required
      /></label>
      <label
        >New password
        <input v-model="fresh" class="box" type="password" autocomplete="new-password" required
      /></label>
      <p class="soft small">
        At least 10 characters. Four words that have nothing to do with each other are a good one.
      </p>
      <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
      <button class="btn main" :disabled="busy">Change it</button>
    </form>
    <SecondStep />
  </section>
</template>

<style scoped src="./setup/page.css"></style>
<style scoped>
.first {
  margin-top: 16px;
}
</style>
