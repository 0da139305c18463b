<template>
  <div class="empty" style="margin: auto">
    <h1>There is nothing at this address</h1>
    <p>The link may be cut off, or what it named was never there.</p>
    <RouterLink to="/" class="btn fir">Go to the desk</RouterLink>
  </div>
</template>
